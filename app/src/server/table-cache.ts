import type { Table } from '@rook-scale/core/table';
import { loadTable, type CohortInfo } from './cohorts/index.ts';

/** Cells kept in memory at most: 100,000 patients with 40 columns four times over. */
const cellLimit = 16_000_000;

interface Kept {
  cells: number;
  table: Promise<Table>;
}

const kept = new Map<string, Kept>();

/**
 * A whole cohort, kept in memory for the next question. A list in the order of risk takes its rows
 * from all over the cohort: reading each page from the database would read nearly everything.
 */
export function cachedTable(cohort: CohortInfo): Promise<Table> {
  const key = `${cohort.id} ${cohort.version}`;
  const found = kept.get(key);
  if (found) {
    // The latest used stands last, the first is the first to go.
    kept.delete(key);
    kept.set(key, found);
    return found.table;
  }
  const table = loadTable(cohort);
  table.catch(() => kept.delete(key));
  kept.set(key, { cells: cohort.rowCount * cohort.dictionary.length, table });
  makeRoom(key);
  return table;
}

function makeRoom(newest: string): void {
  let cells = [...kept.values()].reduce((sum, one) => sum + one.cells, 0);
  for (const [key, one] of kept) {
    if (cells <= cellLimit || key === newest) return;
    kept.delete(key);
    cells -= one.cells;
  }
}
