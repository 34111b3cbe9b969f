import { cohortRoutes } from '../../../../contract/cohorts.ts';
import { developmentCohort } from '../../../../server/cohorts/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const GET = answer(
  cohortRoutes.development,
  async ({ ids }) => (await developmentCohort(ids.study)) ?? null,
);
