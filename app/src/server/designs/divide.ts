import { dividingColumns, type Design } from '@rook-scale/core/design';
import type { Table } from '@rook-scale/core/table';
import { cohortFingerprint, type PlannedCohort } from '../cohorts/index.ts';
import { onThread } from '../threads/index.ts';
import { keptAllocation } from './allocation.ts';
import { divideTable, type Divided, type DivideTask } from './divide-table.ts';

/** Patients above which the web server has a thread do it, and goes on answering meanwhile. */
const manyPatients = 20_000;

/** Carries out split and folds. Throws a DesignError when a side lacks a level. */
export async function divideCohort(
  { after, table, fileRows }: Pick<PlannedCohort, 'after' | 'table' | 'fileRows'>,
  design: Design,
): Promise<Divided> {
  const identifier = after.dictionary.find((entry) => entry.role === 'identifier');
  const names = identifier
    ? [identifier.name, design.outcome, ...dividingColumns(design)]
    : undefined;
  const { split } = design;
  const rows =
    split.way === 'by rows' || split.way === 'second file' ? await fileRows() : undefined;
  const task = {
    who: JSON.stringify([cohortFingerprint(after), names]),
    table: await table(names),
    design,
    by: {
      // Counted from 1, as a page of the file shows them.
      ...(rows && { fileRows: rows.map((row) => row + 1) }),
      ...(split.way === 'as brought in' && { broughtIn: await keptAllocation(split.allocation) }),
    },
  };
  const many = after.rowCount > manyPatients;
  const divide = async (asked: DivideTask) =>
    many ? onThread('divide', asked) : divideTable(asked);
  // Columns are in shared memory; only texts are copied, which takes as long as to divide.
  const slim = many && identifier && !dividingColumns(design).includes(identifier.name);
  const known = slim
    ? await divide({ ...task, table: without(task.table, identifier.name), known: true })
    : null;
  return known ?? (await divide(task))!;
}

function without({ rowCount, dictionary, columns }: Table, name: string): Table {
  const places = [...dictionary.keys()].filter((place) => dictionary[place].name !== name);
  return {
    rowCount,
    dictionary: places.map((place) => dictionary[place]),
    columns: places.map((place) => columns[place]),
  };
}
