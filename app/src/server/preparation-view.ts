import { eq } from 'drizzle-orm';
import { findOutcome, rowsOn, side } from '@rook-scale/core/design';
import {
  choosePredictors,
  fitPreparation,
  type FittedPreparation,
} from '@rook-scale/core/preparation';
import { takeOutcome } from '@rook-scale/core/outcome';
import { developmentCohort, loadTable } from './cohorts/index.ts';
import { db, tables } from './ground/database/index.ts';
import { currentDesign } from './designs/state.ts';

/** The preparation as the development patients of the design in force teach it; null while the design is open. */
export async function preparationView(studyId: string): Promise<FittedPreparation | null> {
  const [design, cohort] = await Promise.all([currentDesign(studyId), developmentCohort(studyId)]);
  if (!design?.divisionId || !cohort) return null;
  const [division] = await db()
    .select({ sides: tables.division.sides })
    .from(tables.division)
    .where(eq(tables.division.id, design.divisionId));
  const { predictors, outcome } = design.choices;
  const table = await loadTable(cohort, [outcome, ...predictors]);
  const rows = rowsOn(division.sides, side.development);
  return fitPreparation(
    choosePredictors(table, predictors),
    rows,
    takeOutcome(findOutcome(table, design.choices), rows),
  ).preparation;
}
