import { columnsOfDependence, dependentRows, inTurns, type Design } from '@rook-scale/core/design';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { cohortFingerprint, loadTable } from '../cohorts/index.ts';
import { fitDivision } from './fit-division.ts';
import type { CandidateRow, Whose } from './store.ts';

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
  candidate: CandidateRow,
  whose: Whose,
): Promise<Int32Array | undefined> {
  const division = await fitDivision(candidate);
  const codes = division && (await clustersIn(division.cohort, division.choices));
  if (!division || !codes) return undefined;
  return differing(
    Int32Array.from(division.rows(whose), (row) => codes[row]),
    division.times(whose),
  );
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
  return differing(Int32Array.from(inTurns(own, times)), times);
}

/** Clusters of predictions; undefined where each patient, as often as they are predicted, is one. */
const differing = (clusters: Int32Array, times: number): Int32Array | undefined =>
  new Set(clusters).size === clusters.length / times ? undefined : clusters;
