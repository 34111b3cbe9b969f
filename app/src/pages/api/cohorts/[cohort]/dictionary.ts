import { dictionarySchema } from '@rook-scale/core/table';
import { cohortInfo, rereadCohort } from '../../../../server/cohorts.ts';
import { followDictionary } from '../../../../server/designs.ts';
import { endpoint, readBody, readId } from '../../../../server/endpoint.ts';
import { announce } from '../../../../server/jobs/index.ts';

/** Reads the kept file again with a mended dictionary. */
export const PUT = endpoint(async (context) => {
  const cohort = await cohortInfo(readId(context, 'cohort'));
  await rereadCohort(cohort.id, await readBody(context.request, dictionarySchema.min(1)));
  if (cohort.purpose === 'development') await followDictionary(cohort.studyId);
  await announce(cohort.studyId);
});
