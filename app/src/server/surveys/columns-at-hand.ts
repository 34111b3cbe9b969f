import type { Measured } from '@rook-scale/core/survey';
import { pickRows, type Dictionary } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { loadTable } from '../cohorts/index.ts';

/** Picks the rows of columns and grades them, on a thread; what comes back is in shared memory. */
export type MeasureColumns = (columns: Measured[], rows: Int32Array) => Promise<Measured[]>;

/** Columns read and graded at a time, and how many times over: while some are read, others are graded. */
const columnsAtOnce = 6;
const lanes = 3;

let kept: { key: string; columns: Promise<Measured[]> } | undefined;
let lettingGo: NodeJS.Timeout | undefined;

/** Milliseconds after which columns that nobody asks for are let go; large ones take half a gigabyte. */
const forSmall = 300_000;
const forLarge = 20_000;
const largeFrom = 5_000_000;

/**
 * Every column of the patients at hand, picked and graded once for all parts of the survey. Those
 * of the latest cohort and split asked for stay in memory.
 *
 * @param patients says which patients `rows` are
 */
export async function columnsAtHand(
  cohort: CohortInfo,
  rows: Int32Array,
  patients: string,
  measure: MeasureColumns,
): Promise<Measured[]> {
  const key = `${cohort.id} ${cohort.version} ${patients}`;
  if (kept?.key !== key) {
    const columns = measureAll(cohort, rows, measure);
    const mine = { key, columns };
    kept = mine;
    columns.catch(() => {
      if (kept === mine) kept = undefined;
    });
  }
  const columns = await kept.columns;
  clearTimeout(lettingGo);
  const cells = rows.length * cohort.dictionary.length;
  const keptFor = cells >= largeFrom ? forLarge : forSmall;
  lettingGo = setTimeout(() => (kept = undefined), keptFor).unref();
  // Kinds and names may have been changed since; the values have not.
  return cohort.dictionary.map(({ name, kind }, i) => ({ ...columns[i], name, kind }));
}

/** Makes room for something else. */
export function letColumnsGo(): void {
  clearTimeout(lettingGo);
  kept = undefined;
}

async function measureAll(
  cohort: CohortInfo,
  rows: Int32Array,
  measure: MeasureColumns,
): Promise<Measured[]> {
  const { dictionary } = cohort;
  const found = new Map<string, Measured>();
  const waiting = dictionary.filter(({ kind }) => kind !== 'text');
  const lane = async () => {
    for (let entries = take(waiting); entries.length > 0; entries = take(waiting)) {
      const columns = await load(cohort, entries);
      for (const column of await measure(columns, rows)) found.set(column.name, column);
    }
  };
  const texts = async () => {
    for (const column of await load(
      cohort,
      dictionary.filter(({ kind }) => kind === 'text'),
    ))
      found.set(column.name, { ...column, column: pickRows(column.column, rows) });
  };
  await Promise.all([texts(), ...Array.from({ length: lanes }, lane)]);
  return dictionary.map(({ name }) => found.get(name)!);
}

const take = (waiting: Dictionary) => waiting.splice(0, columnsAtOnce);

async function load(cohort: CohortInfo, entries: Dictionary): Promise<Measured[]> {
  const { columns } = await loadTable(
    cohort,
    entries.map(({ name }) => name),
  );
  return entries.map(({ name, kind }, i) => ({ name, kind, column: columns[i] }));
}
