import { cohortRoutes } from '../../../../contract/cohorts.ts';
import { cohortInfo } from '../../../../server/cohorts/index.ts';
import { deleteCohort } from '../../../../server/deletion.ts';
import { answer } from '../../../../server/door/index.ts';

export const GET = answer(cohortRoutes.info, ({ ids }) => cohortInfo(ids.cohort));

export const DELETE = answer(cohortRoutes.remove, ({ ids }) => deleteCohort(ids.cohort));
