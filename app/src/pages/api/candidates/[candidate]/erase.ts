import { candidateRoutes } from '../../../../contract/candidates.ts';
import { eraseNow } from '../../../../server/deletion.ts';
import { answer } from '../../../../server/door/index.ts';

/** Ends a deleted candidate for good, before its day is over; its name says that it is the one meant. */
export const POST = answer(
  candidateRoutes.erase,
  ({ ids, body }) => eraseNow('candidate', ids.candidate, body.name),
  { deleted: true },
);
