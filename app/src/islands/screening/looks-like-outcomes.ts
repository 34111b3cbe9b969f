import type { Dictionary } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';

/** A list that a file of outcomes can be joined to, by a column that both have. */
export interface Joinable {
  list: CohortInfo;
  /** The column that says who the patient is, in list and file. */
  on: string;
}

/** More columns than these are a list of patients. */
const mostColumns = 8;

/**
 * The lists that a file seems to hold the outcomes of: it has the outcome and none of the predictors, and says by a
 * column of the list who the patients are. The last list comes first.
 */
export function listsOfOutcomes(
  file: Dictionary,
  lists: CohortInfo[],
  predictors: string[],
  outcome: string,
): Joinable[] {
  const names = new Set(file.map(({ name }) => name));
  if (names.size > mostColumns || !names.has(outcome)) return [];
  if (predictors.some((name) => names.has(name))) return [];
  return lists.flatMap((list) => {
    if (list.dictionary.some(({ name }) => name === outcome)) return [];
    const common = list.dictionary.filter(({ name }) => names.has(name));
    const on = common.find(({ role }) => role === 'identifier') ?? common.at(0);
    return on ? [{ list, on: on.name }] : [];
  });
}
