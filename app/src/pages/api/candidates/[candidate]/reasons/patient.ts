import { reasonRoutes } from '../../../../../contract/reasons.ts';
import { answer } from '../../../../../server/door/index.ts';
import { reasonsView } from '../../../../../server/reasons/index.ts';

export const GET = answer(reasonRoutes.patient, ({ ids, query }) =>
  reasonsView(ids.candidate, query.row),
);
