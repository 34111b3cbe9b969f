import { cohortRoutes } from '../../../../contract/cohorts.ts';
import { changeDictionary } from '../../../../server/designs/index.ts';
import { answer, dictionaryLimit } from '../../../../server/door/index.ts';

/** Changes the dictionary from what a page started from to what it wants. */
export const PUT = answer(
  cohortRoutes.changeDictionary,
  ({ ids, body }) => changeDictionary(ids.cohort, body),
  { limit: dictionaryLimit },
);
