import { eq } from 'drizzle-orm';
import { side } from '@rook-scale/core/design';
import {
  choosePredictors,
  fitPreparation,
  type FittedPreparation,
} from '@rook-scale/core/preparation';
import { developmentCohort, loadTable } from './cohorts/index.ts';
import { db, tables } from './database/index.ts';
import { currentDesign } from './design-state.ts';

/** The preparation as the development patients of the design in force teach it; null while the design is open. */
export async function preparationView(studyId: string): Promise<FittedPreparation | null> {
  const [design, cohort] = await Promise.all([currentDesign(studyId), developmentCohort(studyId)]);
  if (!design?.divisionId || !cohort) return null;
  const [division] = await db()
    .select({ sides: tables.division.sides })
    .from(tables.division)
    .where(eq(tables.division.id, design.divisionId));
  const { predictors } = design.choices;
  const table = await loadTable(cohort, predictors);
  const rows: number[] = [];
  division.sides.forEach((value, row) => {
    if (value === side.development) rows.push(row);
  });
  return fitPreparation(choosePredictors(table, predictors), rows);
}
