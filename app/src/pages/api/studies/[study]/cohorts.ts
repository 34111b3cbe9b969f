import * as z from 'zod';
import { dictionarySchema } from '@rook-scale/core/table';
import {
  createCohort,
  developmentCohort,
  screeningCohorts,
} from '../../../../server/cohorts/index.ts';
import { beginDesign } from '../../../../server/designs.ts';
import { endpoint, readBody, readId } from '../../../../server/endpoint.ts';
import { announce } from '../../../../server/jobs/index.ts';
import { Problem } from '../../../../server/problem.ts';
import { matchingOfSameShape } from '../../../../server/screenings/index.ts';
import { overviewOf } from '../../../../server/studies.ts';

const newCohort = z.object({
  purpose: z.enum(['development', 'screening']),
  name: z.string().trim().min(1, 'Give the cohort a name.').max(120),
  uploadId: z.uuid(),
  dictionary: dictionarySchema.min(1, 'The cohort has no column.'),
});

export const GET = endpoint((context) => screeningCohorts(readId(context, 'study')));

/** Makes a cohort of an upload, as the confirmed dictionary says. */
export const POST = endpoint(async (context) => {
  const study = readId(context, 'study');
  const { purpose, name, uploadId, dictionary } = await readBody(context.request, newCohort);
  await overviewOf(study);
  if (purpose === 'development' && (await developmentCohort(study)))
    throw new Problem(
      409,
      'cohort-there',
      'This study has its development cohort already. Make a new study for another one.',
    );
  const { signal } = context.request;
  const id = await createCohort(study, purpose, name, uploadId, dictionary, signal);
  if (purpose === 'development') await beginDesign(study);
  else await matchingOfSameShape(study, id);
  await announce(study);
  return { id };
});
