import { cohortRoutes } from '../../../../contract/cohorts.ts';
import { restoreCohort } from '../../../../server/deletion.ts';
import { answer } from '../../../../server/door/index.ts';

export const POST = answer(cohortRoutes.restore, ({ ids }) => restoreCohort(ids.cohort), {
  deleted: true,
});
