import { candidateRoutes } from '../../../../../contract/candidates.ts';
import { addSeveral } from '../../../../../server/candidates/index.ts';
import { answer } from '../../../../../server/door/index.ts';

export const POST = answer(candidateRoutes.addSeveral, async ({ ids, body }) => ({
  ids: await addSeveral(ids.study, body.families, body.basis),
}));
