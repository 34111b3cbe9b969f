import { packModel } from '@rook-scale/core/model';
import { fittedCandidate } from '../../../../server/candidates/index.ts';
import { endpoint, readId } from '../../../../server/door/index.ts';

/**
 * The model as plain JSON: preparation, coefficients and what it expects of each predictor; numbers
 * that are kept as bytes are base64 behind it.
 */
export const GET = endpoint(async (context) => {
  const { model } = await fittedCandidate(readId(context, 'candidate'));
  const { json, bytes } = packModel(model);
  const more = bytes.length > 0 && { bytes: Buffer.from(bytes).toString('base64') };
  return { ...(json as object), ...more };
});
