import { reasonRoutes } from '../../../../../contract/reasons.ts';
import { answer } from '../../../../../server/door/index.ts';
import { reasonsView, whyView } from '../../../../../server/reasons/index.ts';

export const GET = answer(reasonRoutes.patient, ({ ids, query }) =>
  reasonsView(ids.candidate, query.row),
);

export const POST = answer(reasonRoutes.why, ({ ids, body }) =>
  whyView(ids.candidate, body.values),
);
