import { endpoint, readId } from '../../../../server/endpoint.ts';
import { readingProgress } from '../../../../server/reading-progress.ts';

/** How far the kept file has been read into a cohort; null while it is not. */
export const GET = endpoint((context) =>
  Promise.resolve(readingProgress(readId(context, 'upload')) ?? null),
);
