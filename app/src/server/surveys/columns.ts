import { pickRows } from '@rook-scale/core/table';
import { developmentCohort, loadTable } from '../cohorts/index.ts';
import { currentDesign } from '../design-in-force.ts';
import { asBytes } from '../files/index.ts';
import { notFound } from '../ground/problem.ts';
import { checkLook, rowsAtHand } from './rows-at-hand.ts';

/** Columns of the patients at hand, packed for the browser: base64 of little-endian arrays. */
export interface PackedColumns {
  patients: number;
  /** Int32: row in the cohort of each patient; only when asked for. */
  rows?: string;
  columns: PackedColumn[];
}

export type PackedColumn = { name: string } & (
  | { type: 'number'; values: string }
  | { type: 'coded'; codes: string; levels: string[] }
  | { type: 'text'; values: (string | null)[] }
);

/** @param names columns wanted; an unknown one is refused */
export async function surveyColumns(
  studyId: string,
  { names, withRows, look }: { names: string[]; withRows: boolean; look?: number },
): Promise<PackedColumns> {
  const [cohort, design] = await Promise.all([developmentCohort(studyId), currentDesign(studyId)]);
  if (!cohort) throw notFound('The cohort');
  await checkLook(studyId, look);
  const unknown = names.find((name) => !cohort.dictionary.some((entry) => entry.name === name));
  if (unknown) throw notFound(`The column ${unknown}`);
  const rows = await rowsAtHand(cohort, design, look);
  const table = await loadTable(cohort, names);
  const pack = (array: Float64Array | Int32Array) => asBytes(array).toString('base64');
  return {
    patients: rows.length,
    rows: withRows ? pack(rows) : undefined,
    columns: names.map((name): PackedColumn => {
      const place = table.dictionary.findIndex((entry) => entry.name === name);
      const column = pickRows(table.columns[place], rows);
      if (column.type === 'number') return { name, type: 'number', values: pack(column.values) };
      if (column.type === 'text') return { name, ...column };
      return { name, type: 'coded', codes: pack(column.codes), levels: column.levels };
    }),
  };
}
