import * as z from 'zod';
import { dictionarySchema } from '@rook-scale/core/table';
import { screeningCohorts } from '../../../../server/cohorts/index.ts';
import { bringIn } from '../../../../server/designs/index.ts';
import { dictionaryLimit, endpoint, readBody, readId } from '../../../../server/door/index.ts';

const newCohort = z.object({
  purpose: z.enum(['development', 'screening']),
  name: z.string().trim().min(1, 'Give the cohort a name.').max(120),
  uploadId: z.uuid(),
  dictionary: dictionarySchema.min(1, 'The cohort has no column.'),
});

export const GET = endpoint((context) => screeningCohorts(readId(context, 'study')));

/** Makes a cohort of an upload, as the confirmed dictionary says. */
export const POST = endpoint(async (context) => {
  const { request } = context;
  const wanted = await readBody(request, newCohort, dictionaryLimit);
  return { id: await bringIn(readId(context, 'study'), wanted, request.signal) };
});
