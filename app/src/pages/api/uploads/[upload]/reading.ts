import { endpoint, readBody, readId } from '../../../../server/door/index.ts';
import { readingSchema } from '../../../../server/files/index.ts';
import { readUploadAnew } from '../../../../server/intake/index.ts';

/** Reads the kept bytes in another way, and says how they are understood then. */
export const PUT = endpoint(async (context) =>
  readUploadAnew(readId(context, 'upload'), await readBody(context.request, readingSchema)),
);
