import { eq } from 'drizzle-orm';
import { rowsOn, side } from '@rook-scale/core/design';
import type { FittedPreparation } from '@rook-scale/core/preparation';
import { developmentCohort, loadTable } from './cohorts/index.ts';
import { db, tables } from './ground/database/index.ts';
import { currentDesign } from './design-in-force.ts';
import { onThread } from './threads/index.ts';

/** The preparation as the development patients of the design in force teach it; null while the design is open. */
export async function preparationView(studyId: string): Promise<FittedPreparation | null> {
  const [state, cohort] = await Promise.all([currentDesign(studyId), developmentCohort(studyId)]);
  if (!state?.divisionId || !cohort) return null;
  const [division] = await db()
    .select({ sides: tables.division.sides })
    .from(tables.division)
    .where(eq(tables.division.id, state.divisionId));
  const design = state.choices;
  const table = await loadTable(cohort, [design.outcome, ...design.predictors]);
  return onThread('prepare', { table, design, rows: rowsOn(division.sides, side.development) });
}
