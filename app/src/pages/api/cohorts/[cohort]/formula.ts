import * as z from 'zod';
import { cohortInfo, tryFormula } from '../../../../server/cohorts/index.ts';
import { endpoint, readBody, readId } from '../../../../server/door/index.ts';

const body = z.object({
  formula: z.string().max(4000, 'A formula has at most 4,000 characters.'),
  /** The derived column that is being changed, if any. */
  column: z.string().optional(),
});

export const POST = endpoint(async (context) => {
  const { formula, column } = await readBody(context.request, body);
  return tryFormula(await cohortInfo(readId(context, 'cohort')), formula, column);
});
