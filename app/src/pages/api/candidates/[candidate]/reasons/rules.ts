import { reasonRoutes } from '../../../../../contract/reasons.ts';
import { answer } from '../../../../../server/door/index.ts';
import { rulesView } from '../../../../../server/reasons/index.ts';

export const GET = answer(reasonRoutes.rules, ({ ids, query }) =>
  rulesView(ids.candidate, query.leaves),
);
