import { side as sideCodes } from '@rook-scale/core/design';
import type { DictionaryEntry, Table } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { currentDesign } from '../design-in-force.ts';
import { marksOf } from '../designs/index.ts';
import { divisionOf } from '../division-of.ts';
import { Problem } from '../ground/problem.ts';

/** Which patients of a cohort are taken out. */
export const sides = ['all', 'development', 'held out', 'sealed'] as const;
export type Side = (typeof sides)[number];

const codeOf = {
  development: sideCodes.development,
  'held out': sideCodes.heldOut,
  sealed: sideCodes.sealed,
};

/** Their rows; undefined for all. */
export async function rowsOfSide(cohort: CohortInfo, side: Side): Promise<Int32Array | undefined> {
  if (side === 'all') return undefined;
  const { sides: codes } = await divisionInForce(cohort);
  const wanted = codeOf[side];
  const rows: number[] = [];
  codes.forEach((code, row) => code === wanted && rows.push(row));
  return Int32Array.from(rows);
}

/** The table with side and fold of each patient as columns behind the others. */
export async function withMarks(cohort: CohortInfo, table: Table): Promise<Table> {
  const marks = marksOf(await divisionInForce(cohort));
  const names = table.dictionary.map(({ name }) => name);
  const entry = (name: string): DictionaryEntry => ({
    name: names.includes(name) ? `${name} of the split` : name,
    label: '',
    unit: '',
    kind: 'text',
    role: 'set aside',
    missingCodes: [],
  });
  const column = (values: string[]) => ({
    type: 'text' as const,
    values: values.map((value) => value || null),
  });
  return {
    ...table,
    dictionary: [...table.dictionary, entry('side'), entry('fold')],
    columns: [...table.columns, column(marks.side), column(marks.fold)],
  };
}

async function divisionInForce(cohort: CohortInfo) {
  const design = await currentDesign(cohort.studyId);
  if (cohort.purpose !== 'development' || !design?.divisionId)
    throw new Problem(
      409,
      'no-split',
      'These patients are not split yet. Complete the design first.',
    );
  return divisionOf(design.divisionId);
}
