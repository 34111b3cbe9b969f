import { columnsOfCosts } from '@rook-scale/core/design';
import type { SidesView } from '../contract/designs.ts';
import { developmentCohort, loadTable } from './cohorts/index.ts';
import { currentDesign } from './design-in-force.ts';
import { divisionOf } from './designs/index.ts';
import { onThread } from './threads/index.ts';

/** Who is on which side of the design in force, and how alike they are; null while it is open. */
export async function sidesView(studyId: string): Promise<SidesView | null> {
  const [state, cohort] = await Promise.all([currentDesign(studyId), developmentCohort(studyId)]);
  if (!state?.divisionId || !cohort) return null;
  const design = state.choices;
  const along = design.split.way === 'by date' ? design.split.column : null;
  const [{ sides, folds }, table] = await Promise.all([
    divisionOf(state.divisionId),
    loadTable(cohort, [
      design.outcome,
      ...design.predictors,
      ...columnsOfCosts(design),
      ...(along === null ? [] : [along]),
    ]),
  ]);
  return onThread('sides', {
    table,
    design,
    along,
    sides: Uint8Array.from(sides),
    folds: Uint8Array.from(folds),
  });
}
