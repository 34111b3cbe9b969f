import Papa from 'papaparse';
import { side } from '@rook-scale/core/design';
import { harmlessCell, showValue } from '@rook-scale/core/table';
import { developmentCohort, keptRows, loadTable } from '../cohorts/index.ts';
import { currentDesign } from '../design-in-force.ts';
import { divisionOf } from '../division-of.ts';
import { Problem } from '../ground/problem.ts';

/** What a side is called where it is written down. */
const sideNames: Record<number, string> = {
  [side.development]: 'development',
  [side.heldOut]: 'held out',
  [side.sealed]: 'sealed',
  [side.unused]: '',
};

/** Who stands where, as a file that can be brought in again: identifier, row of the file, side, fold. */
export async function allocationFile(studyId: string): Promise<{ name: string; text: string }> {
  const [design, cohort] = await Promise.all([currentDesign(studyId), developmentCohort(studyId)]);
  if (!design?.divisionId || !cohort)
    throw new Problem(
      409,
      'no-split',
      'These patients are not split yet. Complete the design first.',
    );
  const identifier = cohort.dictionary.find((entry) => entry.role === 'identifier');
  const [division, kept, table] = await Promise.all([
    divisionOf(design.divisionId),
    keptRows(cohort),
    loadTable(cohort, identifier ? [identifier.name] : []),
  ]);
  const marks = marksOf(division);
  const rows = marks.side.map((side, row) => [
    ...(identifier ? [harmlessCell(showValue(table.columns[0], row))] : []),
    String((kept?.[row] ?? row) + 1),
    side,
    marks.fold[row],
  ]);
  const head = [...(identifier ? [harmlessCell(identifier.name)] : []), 'row', 'side', 'fold'];
  return {
    name: `${cohort.name}, allocation.csv`,
    text: `${Papa.unparse([head, ...rows], { newline: '\n' })}\n`,
  };
}

/** Side and fold of every patient in words; the folds are counted from 1. */
export function marksOf({ sides, folds }: { sides: Uint8Array; folds: Uint8Array }) {
  let next = 0;
  const fold = Array.from(sides, (one) =>
    one === side.development ? String(folds[next++] + 1) : '',
  );
  return { side: Array.from(sides, (one) => sideNames[one]), fold };
}
