import { reasonRoutes } from '../../../../../contract/reasons.ts';
import { answer } from '../../../../../server/door/index.ts';
import { effectView } from '../../../../../server/reasons/index.ts';

export const GET = answer(reasonRoutes.effect, ({ ids, query }) =>
  effectView(ids.candidate, query.name),
);
