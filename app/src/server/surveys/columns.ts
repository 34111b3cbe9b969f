import { pickRows } from '@rook-scale/core/table';
import { developmentCohort, loadTable } from '../cohorts/index.ts';
import { currentDesign } from '../design-in-force.ts';
import { asBytes } from '../files/index.ts';
import { notFound } from '../ground/problem.ts';
import { checkLook, rowsAtHand } from './rows-at-hand.ts';
import type { PackedColumns, PackedColumn } from '../../contract/surveys.ts';

/** A column, or who the patients at hand are; an unknown column is refused. */
export async function surveyColumns(
  studyId: string,
  { name, withRows, look }: { name?: string; withRows: boolean; look?: number },
): Promise<PackedColumns> {
  const names = name === undefined ? [] : [name];
  const [cohort, design] = await Promise.all([developmentCohort(studyId), currentDesign(studyId)]);
  if (!cohort) throw notFound('The cohort');
  await checkLook(studyId, look);
  const unknown = names.find((one) => !cohort.dictionary.some((entry) => entry.name === one));
  if (unknown) throw notFound(`The column ${unknown}`);
  const rows = await rowsAtHand(cohort, design, look);
  const table = await loadTable(cohort, names);
  const pack = (array: Float64Array | Int32Array) => asBytes(array).toString('base64');
  return {
    patients: rows.length,
    rows: withRows ? pack(rows) : undefined,
    columns: names.map((one): PackedColumn => {
      const place = table.dictionary.findIndex((entry) => entry.name === one);
      const column = pickRows(table.columns[place], rows);
      if (column.type === 'number')
        return { name: one, type: 'number', values: pack(column.values) };
      if (column.type === 'text') return { name: one, ...column };
      return { name: one, type: 'coded', codes: pack(column.codes), levels: column.levels };
    }),
  };
}
