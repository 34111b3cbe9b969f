import { studyRoutes } from '../../../../contract/studies.ts';
import { eraseNow } from '../../../../server/deletion.ts';
import { answer } from '../../../../server/door/index.ts';

/** Ends a deleted study for good, before its day is over; its name says that it is the one meant. */
export const POST = answer(
  studyRoutes.erase,
  ({ ids, body }) => eraseNow('study', ids.study, body.name),
  { deleted: true },
);
