import { lookRoutes } from '../../../../../contract/looks.ts';
import { answer } from '../../../../../server/door/index.ts';
import { lookAtSeveral } from '../../../../../server/looks.ts';

export const POST = answer(lookRoutes.several, ({ ids, body }) =>
  lookAtSeveral(ids.study, body.candidates),
);
