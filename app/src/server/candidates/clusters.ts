import { eq, sql } from 'drizzle-orm';
import {
  columnsOfDependence,
  dependentRows,
  inTurns,
  rowsOn,
  type Design,
} from '@rook-scale/core/design';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { cohortFingerprint, developmentCohort, loadTable } from '../cohorts/index.ts';
import { db, tables } from '../ground/database/index.ts';
import { sideOf, type CandidateRow, type Whose } from './store.ts';

/** By cohort as it is now: which rows belong together. */
const known = new Map<string, Int32Array | null>();
const mostKnown = 20;

/** Cluster of each row of a cohort; undefined where no patient and no group comes twice. */
export async function clustersIn(
  cohort: CohortInfo,
  design: Pick<Design, 'split' | 'folds'>,
): Promise<Int32Array | undefined> {
  const { identifiers, groupings } = columnsOfDependence(cohort, design);
  const names = [...identifiers, ...groupings];
  if (names.length === 0) return undefined;
  const key = JSON.stringify([cohort.id, cohortFingerprint(cohort), identifiers, groupings]);
  const found = known.get(key);
  if (found !== undefined) return found ?? undefined;
  const codes = dependentRows(await loadTable(cohort, names), groupings);
  if (known.size >= mostKnown) known.clear();
  known.set(key, codes ?? null);
  return codes;
}

/**
 * Cluster of each of a candidate's predictions: those of one patient, or of one group, are not independent.
 * Undefined where no patient has several rows, and where the cohort has other patients by now.
 */
export async function clustersOfPredictions(
  { designId, studyId, state }: CandidateRow,
  whose: Whose,
): Promise<Int32Array | undefined> {
  if (state !== 'fitted') return undefined;
  const cohort = await developmentCohort(studyId);
  const [fitted] = await db()
    .select({
      choices: tables.design.choices,
      sides: tables.division.sides,
      patients: tables.division.patients,
      folds: sql<number>`octet_length(${tables.division.folds})`,
    })
    .from(tables.division)
    .innerJoin(tables.design, eq(tables.design.divisionId, tables.division.id))
    .where(eq(tables.design.id, designId));
  if (!cohort || !fitted || fitted.patients !== cohortFingerprint(cohort)) return undefined;
  const codes = await clustersIn(cohort, fitted.choices);
  if (!codes) return undefined;
  const rows = rowsOn(fitted.sides, sideOf[whose]);
  return clustersAmong(codes, rows, whose === 'out of fold' ? fitted.folds / rows.length : 1);
}

/**
 * Clusters of some rows, as often as each is predicted; undefined where all of them are of different clusters.
 *
 * @param codes cluster of each row of the cohort
 */
export function clustersAmong(
  codes: Int32Array,
  rows: ArrayLike<number>,
  times = 1,
): Int32Array | undefined {
  const own = Int32Array.from(rows, (row) => codes[row]);
  if (new Set(own).size === own.length) return undefined;
  return Int32Array.from(inTurns(own, times));
}
