import { cohortInfo, deleteCohort } from '../../../../server/cohorts.ts';
import { endpoint, readId } from '../../../../server/endpoint.ts';
import { announce } from '../../../../server/jobs/index.ts';
import { Problem } from '../../../../server/problem.ts';

export const GET = endpoint((context) => cohortInfo(readId(context, 'cohort')));

export const DELETE = endpoint(async (context) => {
  const cohort = await cohortInfo(readId(context, 'cohort'));
  if (cohort.purpose === 'development')
    throw new Problem(409, 'in-use', 'The development cohort carries the whole study and stays.');
  await deleteCohort(cohort.id);
  await announce(cohort.studyId);
});
