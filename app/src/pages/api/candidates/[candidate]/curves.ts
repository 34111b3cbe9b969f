import { candidateRoutes } from '../../../../contract/candidates.ts';
import { candidateCurves } from '../../../../server/candidates/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const GET = answer(candidateRoutes.curves, ({ ids }) => candidateCurves(ids.candidate));
