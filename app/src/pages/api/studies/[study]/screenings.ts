import * as z from 'zod';
import { endpoint, readBody, readId, readQuery } from '../../../../server/door/index.ts';
import { checkCohort, listScreenings, scoreCohort } from '../../../../server/screenings/index.ts';

const pair = z.object({ cohort: z.uuid(), candidate: z.uuid() });

/** `accept`: also where risks rest on what hardly any development patient had. */
const wanted = pair.extend({ accept: z.boolean().optional() });

/** How a cohort fits a model, when both are named; else the cohorts scored so far. */
export const GET = endpoint(async (context) => {
  const study = readId(context, 'study');
  if (context.url.searchParams.size === 0) return listScreenings(study);
  const { cohort, candidate } = readQuery(context, pair);
  return checkCohort(study, cohort, candidate);
});

export const POST = endpoint(async (context) => {
  const study = readId(context, 'study');
  const { cohort, candidate, accept } = await readBody(context.request, wanted);
  return { id: await scoreCohort(study, cohort, candidate, accept) };
});
