import type { Column } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';

/** Cells kept in memory at most: 300,000 patients with 82 columns, some 200 MB. */
const cellLimit = 26_000_000;

interface Kept {
  cells: number;
  column: Promise<Column>;
}

const kept = new Map<string, Kept>();

/**
 * Columns of a cohort's patients, kept in memory for the next question: a list in the order of risk
 * takes each page from all over the cohort, and a fit and the survey read what the other has read.
 *
 * @param load reads those that are not at hand
 */
export async function cachedColumns(
  cohort: CohortInfo,
  places: number[],
  load: (places: number[]) => Promise<Column[]>,
): Promise<Column[]> {
  const keyOf = (place: number) => `${cohort.id} ${cohort.version} ${place}`;
  const absent = places.filter((place) => !kept.has(keyOf(place)));
  if (absent.length > 0) {
    const loading = load(absent);
    absent.forEach((place, i) => {
      const column = loading.then((columns) => columns[i]);
      const key = keyOf(place);
      column.catch(() => kept.delete(key));
      kept.set(key, { cells: cohort.rowCount, column });
    });
  }
  const found = places.map((place) => {
    const key = keyOf(place);
    const one = kept.get(key)!;
    // The latest used stand last, the first are the first to go.
    kept.delete(key);
    kept.set(key, one);
    return one.column;
  });
  makeRoom();
  return Promise.all(found);
}

function makeRoom(): void {
  let cells = 0;
  for (const one of kept.values()) cells += one.cells;
  for (const [key, one] of kept) {
    if (cells <= cellLimit) return;
    kept.delete(key);
    cells -= one.cells;
  }
}
