import { fittedCandidate } from '../../../../server/candidates/index.ts';
import { endpoint, readId } from '../../../../server/door/index.ts';

/** The model as plain JSON: preparation, coefficients and what it expects of each predictor. */
export const GET = endpoint(
  async (context) => (await fittedCandidate(readId(context, 'candidate'))).model,
);
