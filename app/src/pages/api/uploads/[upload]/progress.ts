import { endpoint, readId } from '../../../../server/door/index.ts';
import { readingProgress } from '../../../../server/intake/index.ts';

/** How far the kept file has been read into a cohort; null while it is not. */
export const GET = endpoint((context) =>
  Promise.resolve(readingProgress(readId(context, 'upload')) ?? null),
);
