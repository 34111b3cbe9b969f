import { searchRoutes } from '../../../../contract/searches.ts';
import { eraseNow } from '../../../../server/deletion.ts';
import { answer } from '../../../../server/door/index.ts';

/** Ends a deleted search for good, before its day is over; its name says that it is the one meant. */
export const POST = answer(
  searchRoutes.erase,
  ({ ids, body }) => eraseNow('search', ids.search, body.name),
  { deleted: true },
);
