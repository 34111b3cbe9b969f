import type { Design } from '@rook-scale/core/design';
import type { Table } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { onThread } from '../threads/index.ts';
import { divideTable, type Divided } from './divide-table.ts';

/** Patients above which the web server has a thread do it, and goes on answering meanwhile. */
const manyPatients = 20_000;

/**
 * Carries out split and folds. Throws a DesignError when a side lacks a level.
 *
 * @param read gives the patients of the named columns, or of all
 */
export async function divideCohort(
  cohort: CohortInfo,
  design: Design,
  read: (names?: string[]) => Promise<Table>,
): Promise<Divided> {
  const identifier = cohort.dictionary.find((entry) => entry.role === 'identifier');
  const names = identifier ? [identifier.name, design.outcome] : undefined;
  // Columns are in shared memory; only texts are copied.
  const task = { table: await read(names), design };
  return cohort.rowCount > manyPatients ? onThread('divide', task) : divideTable(task);
}
