import { eq, sql } from 'drizzle-orm';
import { inTurns, rowsOn, type Design } from '@rook-scale/core/design';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { cohortFingerprint, developmentCohort } from '../cohorts/index.ts';
import { db, tables } from '../ground/database/index.ts';
import { sideOf, type CandidateRow, type Whose } from './store.ts';

/** The patients of a fit: their cohort, the design they were divided by, and the rows of each side. */
export interface FitDivision {
  cohort: CohortInfo;
  choices: Design;
  /** Rows that predictions are of, in their order: out of fold each as often as it was dealt. */
  rows: (whose: Whose) => Int32Array;
  /** How often each of them is predicted. */
  times: (whose: Whose) => number;
}

/**
 * The division that a candidate was fitted on; undefined where the cohort has other patients by now, and while it is
 * fitted again, as its predictions are of the division before.
 */
export async function fitDivision({
  designId,
  studyId,
  state,
}: CandidateRow): Promise<FitDivision | undefined> {
  if (state !== 'fitted') return undefined;
  const [division] = await db()
    .select({
      choices: tables.design.choices,
      sides: tables.division.sides,
      patients: tables.division.patients,
      folds: sql<number>`octet_length(${tables.division.folds})`,
    })
    .from(tables.division)
    .innerJoin(tables.design, eq(tables.design.divisionId, tables.division.id))
    .where(eq(tables.design.id, designId));
  const cohort = await developmentCohort(studyId);
  if (!division || !cohort || division.patients !== cohortFingerprint(cohort)) return undefined;
  const { choices, sides, folds } = division;
  const on = (whose: Whose) => rowsOn(sides, sideOf[whose]);
  const times = (whose: Whose) => (whose === 'out of fold' ? folds / on(whose).length : 1);
  return {
    cohort,
    choices,
    times,
    rows: (whose) => Int32Array.from(inTurns(on(whose), times(whose))),
  };
}
