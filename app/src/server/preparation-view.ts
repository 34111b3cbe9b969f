import { rowsOn, side } from '@rook-scale/core/design';
import type { FittedPreparation } from '@rook-scale/core/preparation';
import { showValue } from '@rook-scale/core/table';
import { planParts } from '@rook-scale/core/tuning';
import type { StepShown } from '../contract/designs.ts';
import { developmentCohort, loadTable } from './cohorts/index.ts';
import { currentDesign } from './design-in-force.ts';
import { divisionOf } from './division-of.ts';
import { Problem } from './ground/problem.ts';
import { onThread } from './threads/index.ts';

/**
 * The preparation as the development patients of the design in force teach it; null while the design
 * is open.
 *
 * @param without the fold, from 1, that is not learned from; 0 for all
 */
export async function preparationView(
  studyId: string,
  without: number,
): Promise<FittedPreparation | null> {
  const task = await prepareTask(studyId, without);
  return task && onThread('prepare', task);
}

/** What one step of it does to a column, and to one development patient. */
export async function stepView(
  studyId: string,
  asked: { place: number; column: string; patient: number; without: number },
): Promise<StepShown> {
  const task = await prepareTask(studyId, asked.without);
  if (!task)
    throw new Problem(409, 'design-open', 'The design is not complete: no step has learned yet.');
  const { cohort, rows } = task;
  const patient = Math.min(asked.patient, rows.length - 1);
  const identifier = cohort.dictionary.find((entry) => entry.role === 'identifier');
  const [trace, table] = await Promise.all([
    onThread('step', { ...task, asked: { ...asked, patient } }),
    identifier && loadTable(cohort, [identifier.name]),
  ]);
  return {
    ...trace,
    who: table ? showValue(table.columns[0], rows[patient]) : `row ${rows[patient] + 1}`,
    patients: rows.length,
  };
}

async function prepareTask(studyId: string, without: number) {
  const [state, cohort] = await Promise.all([currentDesign(studyId), developmentCohort(studyId)]);
  if (!state?.divisionId || !cohort) return null;
  const { sides, folds } = await divisionOf(state.divisionId);
  const design = state.choices;
  const table = await loadTable(cohort, [design.outcome, ...design.predictors]);
  const development = rowsOn(sides, side.development);
  if (without === 0) return { table, design, cohort, rows: development };
  const part = planParts(development, Uint8Array.from(folds), new Int32Array())
    .slice(0, -1)
    .find((_, fold) => fold + 1 === without);
  if (!part) throw new Problem(409, 'no-fold', 'There is no such fold any more.');
  return { table, design, cohort, rows: part.learnRows };
}
