import * as z from 'zod';
import { matchingSchema } from '@rook-scale/core/screening';
import { endpoint, readBody, readId } from '../../../../server/door/index.ts';
import { matchColumns } from '../../../../server/screenings/index.ts';

const body = z.object({ candidate: z.uuid(), matching: matchingSchema });

/** Says which columns of a list stand for which predictors of a candidate's model. */
export const PUT = endpoint(async (context) => {
  const { candidate, matching } = await readBody(context.request, body);
  await matchColumns(readId(context, 'cohort'), candidate, matching);
});
