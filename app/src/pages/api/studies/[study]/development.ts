import { developmentCohort } from '../../../../server/cohorts/index.ts';
import { endpoint, readId } from '../../../../server/door/index.ts';

/** The development cohort, or null while there is none. */
export const GET = endpoint(
  async (context) => (await developmentCohort(readId(context, 'study'))) ?? null,
);
