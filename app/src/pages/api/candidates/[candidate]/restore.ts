import { candidateRoutes } from '../../../../contract/candidates.ts';
import { restoreCandidate } from '../../../../server/deletion.ts';
import { answer } from '../../../../server/door/index.ts';

export const POST = answer(candidateRoutes.restore, ({ ids }) => restoreCandidate(ids.candidate), {
  deleted: true,
});
