import { eraseNow, erasure } from '../../../../server/deletion.ts';
import { endpoint, readBody, readId } from '../../../../server/door/index.ts';

/** Ends a deleted candidate for good, before its day is over; its name says that it is the one meant. */
export const POST = endpoint(
  async (context) => {
    const { name } = await readBody(context.request, erasure);
    await eraseNow('candidate', readId(context, 'candidate'), name);
  },
  { deleted: true },
);
