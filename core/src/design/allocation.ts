import { ascendingOrder, orderingNumbers } from '../numeric/index.ts';

/** Where a row of the development cohort stands. */
export const side = { development: 0, heldOut: 1, unused: 2 } as const;

/**
 * Sets a share of the patients aside, stratified by outcome. In each stratum exactly
 * round(share × patients) are held out, up to one patient so that the total is exact too
 * (largest remainder). Who it is depends on seed and key only, never on the order of rows.
 *
 * @param keys one a row; rows with the same key go to the same side
 * @param strata outcome level of each row, -1 where the outcome is not known: such rows are unused
 * @param share of the patients to hold out, 0 < share < 1
 * @returns one entry of `side` a row
 */
export function allocateHeldOut(
  keys: string[],
  strata: ArrayLike<number>,
  share: number,
  seed: number,
): Uint8Array {
  const sides = new Uint8Array(keys.length).fill(side.unused);
  const { groups, eachRow } = groupByStratum(keys, strata, seed, 'held-out');
  const wanted = largestRemainders(
    groups.map((group) => group.length * share),
    Math.round(groups.reduce((sum, group) => sum + group.length, 0) * share),
  );
  groups.forEach((group, g) => {
    group.forEach((patient, place) => {
      const value = place < wanted[g] ? side.heldOut : side.development;
      eachRow(patient, (row) => (sides[row] = value));
    });
  });
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
  keys: string[],
  strata: ArrayLike<number>,
  rows: ArrayLike<number>,
  count: number,
  seed: number,
): Uint8Array {
  const places = Array.from(rows);
  const { groups, eachRow } = groupByStratum(
    places.map((row) => keys[row]),
    places.map((row) => strata[row]),
    seed,
    'fold',
  );
  const folds = new Uint8Array(places.length);
  let next = 0;
  for (const group of groups)
    for (const patient of group) {
      eachRow(patient, (place) => (folds[place] = next));
      next = (next + 1) % count;
    }
  return folds;
}

/** Patients in seeded order, one list a stratum, the highest stratum first. */
interface Groups {
  groups: number[][];
  eachRow: (patient: number, visit: (row: number) => void) => void;
}

/** A patient with several rows counts in the highest stratum seen. */
function groupByStratum(
  keys: string[],
  strata: ArrayLike<number>,
  seed: number,
  stream: string,
): Groups {
  const { patientOf, stratumOf, order } = patientsOf(keys, strata, orderingNumbers(seed, stream));
  const groups = new Map<number, number[]>();
  for (const patient of ascendingOrder(order)) {
    const stratum = stratumOf[patient];
    const group = groups.get(stratum);
    if (group) group.push(patient);
    else groups.set(stratum, [patient]);
  }
  return {
    groups: [...groups.entries()].sort(([a], [b]) => b - a).map(([, group]) => group),
    eachRow: rowsOfPatients(patientOf, stratumOf.length),
  };
}

/** Who each row is, counted from 0 in the order of first appearance; -1 for rows without a stratum. */
function patientsOf(
  keys: string[],
  strata: ArrayLike<number>,
  orderOf: (key: string) => number,
): { patientOf: Int32Array; stratumOf: number[]; order: number[] } {
  const seen = new Map<string, number>();
  const patientOf = new Int32Array(keys.length).fill(-1);
  const stratumOf: number[] = [];
  const order: number[] = [];
  for (let row = 0; row < keys.length; row++) {
    const stratum = strata[row];
    if (stratum < 0) continue;
    const known = seen.get(keys[row]);
    if (known !== undefined) {
      patientOf[row] = known;
      stratumOf[known] = Math.max(stratumOf[known], stratum);
      continue;
    }
    patientOf[row] = stratumOf.length;
    seen.set(keys[row], stratumOf.length);
    stratumOf.push(stratum);
    order.push(orderOf(keys[row]));
  }
  return { patientOf, stratumOf, order };
}

/** Visits the rows of a patient, ascending. */
function rowsOfPatients(patientOf: Int32Array, patients: number): Groups['eachRow'] {
  const begins = new Int32Array(patients + 1);
  for (const patient of patientOf) if (patient >= 0) begins[patient + 1]++;
  for (let patient = 0; patient < patients; patient++) begins[patient + 1] += begins[patient];
  const rows = new Int32Array(begins[patients]);
  const next = begins.slice();
  patientOf.forEach((patient, row) => {
    if (patient >= 0) rows[next[patient]++] = row;
  });
  return (patient, visit) => {
    for (let i = begins[patient]; i < begins[patient + 1]; i++) visit(rows[i]);
  };
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
