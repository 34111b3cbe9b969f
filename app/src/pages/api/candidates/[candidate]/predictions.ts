import { outOfFoldPredictions } from '../../../../server/candidates/index.ts';
import { endpoint, readId } from '../../../../server/door/index.ts';

/** Out-of-fold risks of the development patients; the held-out ones are given only for a look. */
export const GET = endpoint((context) => outOfFoldPredictions(readId(context, 'candidate')));
