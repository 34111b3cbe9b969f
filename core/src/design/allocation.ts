import { ascendingOrder, orderingNumbers } from '../numeric/index.ts';

/** Where a row of the development cohort stands. */
export const side = { development: 0, heldOut: 1, unused: 2 } as const;

/** Who stands in which row. */
export interface Patients {
  /** One key a patient, in the order of first appearance. */
  keys: string[];
  /** Place in `keys` of each row's patient. */
  ofRow: Int32Array;
}

/** @param keys one a row; rows with the same key are one patient */
export function patientsOf(keys: string[]): Patients {
  const places = new Map<string, number>();
  const ofRow = new Int32Array(keys.length);
  for (let row = 0; row < keys.length; row++) {
    let place = places.get(keys[row]);
    if (place === undefined) places.set(keys[row], (place = places.size));
    ofRow[row] = place;
  }
  return { keys: [...places.keys()], ofRow };
}

/**
 * Sets a share of the patients aside, stratified by outcome. In each stratum exactly
 * round(share × patients) are held out, up to one patient so that the total is exact too
 * (largest remainder). Who it is depends on seed and key only, never on the order of rows; all
 * rows of a patient go to the same side.
 *
 * @param strata outcome level of each row, -1 where the outcome is not known: such rows are unused
 * @param share of the patients to hold out, 0 < share < 1
 * @returns one entry of `side` a row
 */
export function allocateHeldOut(
  patients: Patients,
  strata: ArrayLike<number>,
  share: number,
  seed: number,
): Uint8Array {
  const { ofRow } = patients;
  const groups = groupByStratum(patients, strata, ofRow.keys(), seed, 'held-out');
  const wanted = largestRemainders(
    groups.map((group) => group.length * share),
    Math.round(groups.reduce((sum, group) => sum + group.length, 0) * share),
  );
  const sideOf = new Uint8Array(patients.keys.length);
  groups.forEach((group, g) =>
    group.forEach((patient, place) => {
      sideOf[patient] = place < wanted[g] ? side.heldOut : side.development;
    }),
  );
  const sides = new Uint8Array(ofRow.length);
  for (let row = 0; row < ofRow.length; row++)
    sides[row] = strata[row] < 0 ? side.unused : sideOf[ofRow[row]];
  return sides;
}

/**
 * Deals patients into `count` folds, stratified by outcome: in each stratum the folds differ by
 * at most one patient, and so do the folds as a whole.
 *
 * @param rows the rows to deal, the development patients
 * @returns a fold from 0 a row of `rows`
 */
export function allocateFolds(
  patients: Patients,
  strata: ArrayLike<number>,
  rows: Int32Array,
  count: number,
  seed: number,
): Uint8Array {
  const foldOf = new Uint8Array(patients.keys.length);
  let next = 0;
  for (const group of groupByStratum(patients, strata, rows, seed, 'fold'))
    for (const patient of group) {
      foldOf[patient] = next;
      next = (next + 1) % count;
    }
  const folds = new Uint8Array(rows.length);
  for (let i = 0; i < rows.length; i++) folds[i] = foldOf[patients.ofRow[rows[i]]];
  return folds;
}

/**
 * Patients of these rows in seeded order, one list a stratum, the highest stratum first. A patient
 * with several rows counts in the highest stratum seen.
 */
function groupByStratum(
  { keys, ofRow }: Patients,
  strata: ArrayLike<number>,
  rows: Iterable<number>,
  seed: number,
  stream: string,
): number[][] {
  const stratumOf = new Int32Array(keys.length).fill(-1);
  for (const row of rows)
    if (strata[row] > stratumOf[ofRow[row]]) stratumOf[ofRow[row]] = strata[row];
  const orderOf = orderingNumbers(seed, stream);
  const order = new Float64Array(keys.length).fill(NaN);
  for (let patient = 0; patient < keys.length; patient++)
    if (stratumOf[patient] >= 0) order[patient] = orderOf(keys[patient]);
  const groups = new Map<number, number[]>();
  for (const patient of ascendingOrder(order)) {
    const group = groups.get(stratumOf[patient]);
    if (group) group.push(patient);
    else groups.set(stratumOf[patient], [patient]);
  }
  return [...groups.entries()].sort(([a], [b]) => b - a).map(([, group]) => group);
}

/** Whole numbers near `shares` that sum to `total`. */
function largestRemainders(shares: number[], total: number): number[] {
  const whole = shares.map(Math.floor);
  const order = shares
    .map((share, i) => ({ i, rest: share - Math.floor(share) }))
    .sort((a, b) => b.rest - a.rest || a.i - b.i);
  let left = total - whole.reduce((sum, count) => sum + count, 0);
  for (const { i } of order) {
    if (left <= 0) break;
    whole[i]++;
    left--;
  }
  return whole;
}
