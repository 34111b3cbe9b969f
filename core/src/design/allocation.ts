import { orderingNumber } from '../numeric/index.ts';

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
  const groups = groupByStratum(keys, strata, seed, 'held-out');
  const wanted = largestRemainders(
    groups.map((group) => group.length * share),
    Math.round(groups.reduce((sum, group) => sum + group.length, 0) * share),
  );
  groups.forEach((group, g) => {
    group.forEach((unit, place) => {
      const value = place < wanted[g] ? side.heldOut : side.development;
      for (const row of unit.rows) sides[row] = value;
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
  const groups = groupByStratum(
    places.map((row) => keys[row]),
    places.map((row) => strata[row]),
    seed,
    'fold',
  );
  const folds = new Uint8Array(places.length);
  let next = 0;
  for (const group of groups)
    for (const unit of group) {
      for (const place of unit.rows) folds[place] = next;
      next = (next + 1) % count;
    }
  return folds;
}

interface Unit {
  rows: number[];
  stratum: number;
  order: number;
}

/** Patients in seeded order, one list a stratum. A patient with several rows counts in the highest stratum seen. */
function groupByStratum(
  keys: string[],
  strata: ArrayLike<number>,
  seed: number,
  stream: string,
): Unit[][] {
  const units = new Map<string, Unit>();
  keys.forEach((key, row) => {
    if (strata[row] < 0) return;
    const unit = units.get(key);
    if (!unit)
      units.set(key, {
        rows: [row],
        stratum: strata[row],
        order: orderingNumber(seed, stream, key),
      });
    else {
      unit.rows.push(row);
      unit.stratum = Math.max(unit.stratum, strata[row]);
    }
  });
  const groups = new Map<number, Unit[]>();
  for (const unit of units.values()) {
    const group = groups.get(unit.stratum);
    if (group) group.push(unit);
    else groups.set(unit.stratum, [unit]);
  }
  return [...groups.entries()]
    .sort(([a], [b]) => b - a)
    .map(([, group]) => group.sort((a, b) => a.order - b.order));
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
