import { z } from 'zod';
import { endpoint, readBody, readId, readQuery } from '../../../../server/endpoint.ts';
import { checkCohort, listScreenings, scoreCohort } from '../../../../server/screenings.ts';

const pair = z.object({ cohort: z.uuid(), candidate: z.uuid() });

/** How a cohort fits a model, when both are named; else the cohorts scored so far. */
export const GET = endpoint(async (context) => {
  const study = readId(context, 'study');
  if (context.url.searchParams.size === 0) return listScreenings(study);
  const { cohort, candidate } = readQuery(context, pair);
  return checkCohort(study, cohort, candidate);
});

export const POST = endpoint(async (context) => {
  const study = readId(context, 'study');
  const { cohort, candidate } = await readBody(context.request, pair);
  return { id: await scoreCohort(study, cohort, candidate) };
});
