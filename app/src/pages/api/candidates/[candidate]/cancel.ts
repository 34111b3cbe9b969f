import { candidateRoutes } from '../../../../contract/candidates.ts';
import { cancelFit } from '../../../../server/candidates/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const POST = answer(candidateRoutes.cancel, ({ ids }) => cancelFit(ids.candidate));
