import { eq, sql } from 'drizzle-orm';
import {
  columnsOfCosts,
  inTurns,
  patientCosts,
  rowsOn,
  type Design,
} from '@rook-scale/core/design';
import type { PatientCosts } from '@rook-scale/core/measures';
import { cohortFingerprint, developmentCohort, loadTable } from '../cohorts/index.ts';
import { db, tables } from '../ground/database/index.ts';
import { sideOf, type CandidateRow, type Whose } from './store.ts';

/**
 * What errors cost each of the patients that a candidate's predictions are of; undefined where the
 * design names no column, and where they are other patients than the cohort has now.
 */
export async function ownCosts(
  { designId, studyId, state }: CandidateRow,
  design: Design,
  whose: Whose,
): Promise<PatientCosts | undefined> {
  const names = columnsOfCosts(design);
  // While it is fitted again, its predictions are of the division before.
  if (names.length === 0 || state !== 'fitted') return undefined;
  const [division] = await db()
    .select({
      sides: tables.division.sides,
      patients: tables.division.patients,
      folds: sql<number>`octet_length(${tables.division.folds})`,
    })
    .from(tables.division)
    .innerJoin(tables.design, eq(tables.design.divisionId, tables.division.id))
    .where(eq(tables.design.id, designId));
  const cohort = await developmentCohort(studyId);
  if (!division || !cohort || division.patients !== cohortFingerprint(cohort)) return undefined;
  const table = await loadTable(cohort, names);
  const rows = rowsOn(division.sides, sideOf[whose]);
  // Out of fold each patient is predicted as often as they are dealt.
  const times = whose === 'out of fold' ? division.folds / rows.length : 1;
  return patientCosts(design, table, inTurns(rows, times));
}
