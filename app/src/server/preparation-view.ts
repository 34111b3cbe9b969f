import { eq } from 'drizzle-orm';
import { findEvents, rowsOn, side } from '@rook-scale/core/design';
import {
  choosePredictors,
  fitPreparation,
  type FittedPreparation,
} from '@rook-scale/core/preparation';
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
  const events = findEvents(table, design.choices);
  return fitPreparation(
    choosePredictors(table, predictors),
    rows,
    Uint8Array.from(rows, (row) => events[row]),
  ).preparation;
}
