import {
  alignToModel,
  applyMatching,
  type Alignment,
  type Match,
  type Model,
} from '@rook-scale/core/screening';
import type { Table } from '@rook-scale/core/table';
import { fittedCandidate, withCases } from '../candidates/index.ts';
import { cohortInfo, loadTable, type CohortInfo } from '../cohorts/index.ts';
import { currentDesign } from '../designs/state.ts';
import { notFound } from '../ground/problem.ts';

/** A list set against a model: its columns as the model needs them, and what is amiss. */
export interface Meeting {
  cohort: CohortInfo;
  model: Model;
  /** When the fit of the model ended. */
  fittedAt: Date | null;
  /** The list under the names, units and levels of the model. */
  table: Table;
  alignment: Alignment;
  /** Predictors of the model without which nobody may be scored. */
  needed: string[];
  /** 1 in the rows where one of them is not known. */
  unscored: Uint8Array;
}

/** Meets a list with a candidate's model. @param matching in place of the one that is kept */
export async function meetModel(
  studyId: string,
  cohortId: string,
  candidateId: string,
  matching?: Match[],
): Promise<Meeting> {
  const [cohort, candidate, design] = await Promise.all([
    cohortInfo(cohortId),
    fittedCandidate(candidateId),
    currentDesign(studyId),
  ]);
  if (cohort.studyId !== studyId) throw notFound('The cohort');
  if (candidate.studyId !== studyId) throw notFound('The candidate');
  const { fittedAt } = candidate;
  const model = withCases(candidate.model, design?.choices);
  const table = applyMatching(await loadTable(cohort), matching ?? cohort.matching);
  const alignment = alignToModel(model, table);
  const needed = (design?.choices.needed ?? []).filter((name) =>
    model.predictors.some((predictor) => predictor.name === name),
  );
  const unscored = withoutNeeded(alignment, needed);
  return { cohort, model, fittedAt, table, alignment, needed, unscored };
}

function withoutNeeded({ columns }: Alignment, needed: string[]): Uint8Array {
  const first = columns[0];
  const count = first.type === 'number' ? first.values.length : first.codes.length;
  const rows = new Uint8Array(count);
  for (const column of columns) {
    if (!needed.includes(column.name)) continue;
    for (let row = 0; row < count; row++)
      if (column.type === 'number' ? Number.isNaN(column.values[row]) : column.codes[row] < 0)
        rows[row] = 1;
  }
  return rows;
}

/** Rows with at least one value that hardly any development patient had, among those to be scored. */
export function unfamiliarRows({ alignment, unscored }: Meeting): Uint8Array {
  const rows = new Uint8Array(unscored.length);
  for (const one of alignment.unfamiliar)
    for (let row = 0; row < rows.length; row++) if (one.rows[row] && !unscored[row]) rows[row] = 1;
  return rows;
}

export function countOnes(rows: Uint8Array): number {
  let count = 0;
  for (let row = 0; row < rows.length; row++) count += rows[row];
  return count;
}
