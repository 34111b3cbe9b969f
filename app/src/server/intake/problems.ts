import { Problem } from '../ground/problem.ts';
import { readingMemory } from './limits.ts';

export const brokenFile = () =>
  new Problem(
    422,
    'unreadable',
    'The file is broken, or holds something that no table has: it could not be read to its end. Export it again, or bring it in as CSV. Nothing was stored.',
  );

export const tooSlow = () =>
  new Problem(
    422,
    'takes-too-long',
    'Reading this file takes longer than a table of its size ever should, so it was given up. Export it again, or bring it in as CSV; nothing was stored.',
  );

export const readerEnded = () =>
  new Problem(
    422,
    'unreadable',
    `The file cannot be read: it is broken, or takes more than ${readingMemory / 1024} GB of memory. Bring the table in as CSV; nothing was stored.`,
  );
