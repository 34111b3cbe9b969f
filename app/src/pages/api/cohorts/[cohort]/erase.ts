import { cohortRoutes } from '../../../../contract/cohorts.ts';
import { eraseNow } from '../../../../server/deletion.ts';
import { answer } from '../../../../server/door/index.ts';

/** Ends a deleted cohort for good, before its day is over; its name says that it is the one meant. */
export const POST = answer(
  cohortRoutes.erase,
  ({ ids, body }) => eraseNow('cohort', ids.cohort, body.name),
  { deleted: true },
);
