import { candidateRoutes } from '../../../../../contract/candidates.ts';
import { addRecalibrated } from '../../../../../server/candidates/index.ts';
import { answer } from '../../../../../server/door/index.ts';

export const POST = answer(candidateRoutes.recalibrate, async ({ ids, body }) => ({
  id: await addRecalibrated(ids.study, body.candidate, body.how),
}));
