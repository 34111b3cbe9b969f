import { sortedPresent, twoSidedTP, z95 } from '../../numeric/index.ts';
import type { Interval } from '../../measures/index.ts';

/**
 * Mid-ranks of values, 1 for the least; NaN stays NaN. Ties share the mean of their ranks, as in
 * Spearman (1904), American Journal of Psychology 15:72-101.
 */
export function midRanks(values: ArrayLike<number>): Float64Array {
  return ranksInOrder(values, ascendingOrder(values));
}

/**
 * Row numbers of the known values, from the least up; ties in the order of rows. Numbers are sorted
 * as numbers and each row then finds its place: many times faster than sorting rows by comparing.
 */
export function ascendingOrder(values: ArrayLike<number>): Int32Array {
  const sorted = sortedPresent(values);
  const taken = new Int32Array(sorted.length);
  const order = new Int32Array(sorted.length);
  for (let row = 0; row < values.length; row++) {
    const value = values[row];
    if (Number.isNaN(value)) continue;
    const first = firstPlace(sorted, value);
    order[first + taken[first]++] = row;
  }
  return order;
}

/** Where a value that occurs in `sorted` first stands. */
function firstPlace(sorted: Float64Array, value: number): number {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle] < value) low = middle + 1;
    else high = middle;
  }
  return low;
}

/**
 * Mid-ranks among the rows of `order` that `counted` lets through (not NaN there); NaN elsewhere.
 * With the order known, ranks among the rows shared with any other column need no sorting.
 */
export function ranksInOrder(
  values: ArrayLike<number>,
  order: Int32Array,
  counted?: ArrayLike<number>,
): Float64Array {
  const ranks = new Float64Array(values.length).fill(NaN);
  const mine = counted ? order.filter((row) => !Number.isNaN(counted[row])) : order;
  for (let start = 0; start < mine.length;) {
    let end = start + 1;
    while (end < mine.length && values[mine[end]] === values[mine[start]]) end++;
    for (let i = start; i < end; i++) ranks[mine[i]] = (start + 1 + end) / 2;
    start = end;
  }
  return ranks;
}

/**
 * Pearson's correlation over the rows where both are known; of mid-ranks it is Spearman's.
 * NaN when fewer than three rows are left or one side does not vary.
 */
export function correlation(a: ArrayLike<number>, b: ArrayLike<number>): number {
  return correlate(a, b).value;
}

/** As `correlation`, with the number of rows where both are known. */
export function correlate(
  a: ArrayLike<number>,
  b: ArrayLike<number>,
): { value: number; patients: number } {
  let count = 0;
  let meanA = 0;
  let meanB = 0;
  let squaresA = 0;
  let squaresB = 0;
  let products = 0;
  for (let i = 0; i < a.length; i++) {
    if (Number.isNaN(a[i]) || Number.isNaN(b[i])) continue;
    // Welford's update keeps the digits that sums of squares would lose.
    count++;
    const fromA = a[i] - meanA;
    const fromB = b[i] - meanB;
    meanA += fromA / count;
    meanB += fromB / count;
    squaresA += fromA * (a[i] - meanA);
    squaresB += fromB * (b[i] - meanB);
    products += fromA * (b[i] - meanB);
  }
  if (count < 3 || squaresA === 0 || squaresB === 0) return { value: NaN, patients: count };
  const value = products / Math.sqrt(squaresA * squaresB);
  return { value: Math.min(1, Math.max(-1, value)), patients: count };
}

/** Spearman's rank correlation over the rows where both are known. */
export function rankCorrelate(
  a: ArrayLike<number>,
  b: ArrayLike<number>,
): { value: number; patients: number } {
  return correlate(ranksInOrder(a, ascendingOrder(a), b), ranksInOrder(b, ascendingOrder(b), a));
}

/**
 * 95% interval of a correlation through its inverse hyperbolic tangent: Fisher (1921), Metron
 * 1:3-32; for ranks with the standard error of Bonett & Wright (2000), Psychometrika 65:23-28.
 * Undefined below five patients or at a correlation of ±1.
 */
export function correlationInterval(
  value: number,
  patients: number,
  ofRanks = false,
): Interval | undefined {
  if (!(Math.abs(value) < 1) || patients < 5) return undefined;
  const factor = ofRanks ? 1 + (value * value) / 2 : 1;
  const reach = z95 * Math.sqrt(factor / (patients - 3));
  const centre = Math.atanh(value);
  return [Math.tanh(centre - reach), Math.tanh(centre + reach)];
}

/** Two-sided p of no correlation, from Student's t with n - 2 degrees of freedom. */
export function correlationP(value: number, patients: number): number {
  if (patients < 3 || Number.isNaN(value)) return NaN;
  if (Math.abs(value) >= 1) return 0;
  return twoSidedTP(value * Math.sqrt((patients - 2) / (1 - value * value)), patients - 2);
}
