import type { Balance } from '@rook-scale/core/design';
import { developmentCohort, loadTable } from './cohorts/index.ts';
import { currentDesign } from './design-in-force.ts';
import { divisionOf } from './designs/index.ts';
import { onThread } from './threads/index.ts';

/** How alike both sides of the design in force are; null while it is open. */
export async function balanceView(studyId: string): Promise<Balance[] | null> {
  const [state, cohort] = await Promise.all([currentDesign(studyId), developmentCohort(studyId)]);
  if (!state?.divisionId || !cohort) return null;
  const { predictors } = state.choices;
  const [{ sides }, table] = await Promise.all([
    divisionOf(state.divisionId),
    loadTable(cohort, predictors),
  ]);
  return onThread('balance', { table, names: predictors, sides: Uint8Array.from(sides) });
}
