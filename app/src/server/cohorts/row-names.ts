import type { CohortInfo } from '../../contract/cohorts.ts';
import { loadTable } from './load.ts';

/** What each row of a cohort is called: by its identifier, or else by its number. */
export async function namesOfRows(cohort: CohortInfo): Promise<(row: number) => string> {
  const identifier = cohort.dictionary.find(({ role }) => role === 'identifier')?.name;
  const column = identifier && (await loadTable(cohort, [identifier])).columns[0];
  return (row) => (column && column.type === 'text' && column.values[row]) || `row ${row + 1}`;
}
