import { candidateRoutes } from '../../../../contract/candidates.ts';
import { outOfFoldPredictions } from '../../../../server/candidates/index.ts';
import { answer } from '../../../../server/door/index.ts';

/** Out-of-fold risks of the development patients; the held-out ones are given only for a look. */
export const GET = answer(candidateRoutes.predictions, ({ ids }) =>
  outOfFoldPredictions(ids.candidate),
);
