import { pickRows } from '@rook-scale/core/table';
import { developmentCohort, loadTable } from '../cohorts/index.ts';
import { currentDesign } from '../design-in-force.ts';
import { asBytes } from '../files/index.ts';
import { notFound } from '../ground/problem.ts';
import { checkLook, rowsAtHand } from './rows-at-hand.ts';
import type { CohortInfo } from '../../contract/cohorts.ts';
import type { PackedColumn, PackedColumns } from '../../contract/surveys.ts';

/** A column, or who the patients at hand are; an unknown column is refused. */
export async function surveyColumns(
  studyId: string,
  { name, withRows, look }: { name?: string; withRows: boolean; look?: number },
): Promise<PackedColumns> {
  const [cohort, design] = await Promise.all([developmentCohort(studyId), currentDesign(studyId)]);
  if (!cohort) throw notFound('The cohort');
  await checkLook(studyId, look);
  if (name !== undefined && !cohort.dictionary.some((entry) => entry.name === name))
    throw notFound(`The column ${name}`);
  const rows = await rowsAtHand(cohort, design, look);
  return {
    patients: rows.length,
    rows: withRows ? pack(rows) : undefined,
    columns: name === undefined ? [] : [await packColumn(cohort, name, rows)],
  };
}

export async function packColumn(
  cohort: CohortInfo,
  name: string,
  rows: Int32Array,
): Promise<PackedColumn> {
  const table = await loadTable(cohort, [name]);
  const place = table.dictionary.findIndex((entry) => entry.name === name);
  const column = pickRows(table.columns[place], rows);
  if (column.type === 'number') return { name, type: 'number', values: pack(column.values) };
  if (column.type === 'text') return { name, ...column };
  return { name, type: 'coded', codes: pack(column.codes), levels: column.levels };
}

const pack = (array: Float64Array | Int32Array) => asBytes(array).toString('base64');
