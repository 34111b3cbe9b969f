import { candidateRoutes } from '../../../../../contract/candidates.ts';
import { addBlend } from '../../../../../server/candidates/index.ts';
import { answer } from '../../../../../server/door/index.ts';

export const POST = answer(candidateRoutes.blend, async ({ ids, body }) => ({
  id: await addBlend(ids.study, body.candidates, body.weights),
}));
