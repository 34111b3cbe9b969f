import {
  chiSquareUpperTail,
  fUpperTail,
  tQuantile,
  twoSidedNormalP,
  twoSidedTP,
} from '../../numeric/index.ts';
import type { Interval } from '../../measures/index.ts';
import { momentsOf } from '../describe/index.ts';
import { midRanks } from './correlation.ts';

/** The known values of each level, in the order of the levels. */
export function byLevel(
  values: ArrayLike<number>,
  codes: ArrayLike<number>,
  levels: number,
): Float64Array[] {
  const sizes = new Int32Array(levels);
  const counts = (i: number) => codes[i] >= 0 && !Number.isNaN(values[i]);
  for (let i = 0; i < values.length; i++) if (counts(i)) sizes[codes[i]]++;
  const groups = Array.from(sizes, (size) => new Float64Array(size));
  const next = new Int32Array(levels);
  for (let i = 0; i < values.length; i++)
    if (counts(i)) groups[codes[i]][next[codes[i]]++] = values[i];
  return groups;
}

export interface MeanDifference {
  /** Mean of the first group minus that of the second. */
  difference: number;
  interval: Interval;
  t: number;
  degreesOfFreedom: number;
  p: number;
}

/**
 * Difference of two means without assuming equal spread: Welch (1947), Biometrika 34:28-35.
 * Undefined when a group has fewer than two values or neither varies.
 */
export function welch(a: Float64Array, b: Float64Array): MeanDifference | undefined {
  if (a.length < 2 || b.length < 2) return undefined;
  const [first, second] = [momentsOf(a), momentsOf(b)];
  const [partA, partB] = [first.sd ** 2 / a.length, second.sd ** 2 / b.length];
  const variance = partA + partB;
  if (!(variance > 0)) return undefined;
  const difference = first.mean - second.mean;
  const degreesOfFreedom =
    variance ** 2 / (partA ** 2 / (a.length - 1) + partB ** 2 / (b.length - 1));
  const t = difference / Math.sqrt(variance);
  const reach = tQuantile(0.025, degreesOfFreedom) * Math.sqrt(variance);
  return {
    difference,
    interval: [difference - reach, difference + reach],
    t,
    degreesOfFreedom,
    p: twoSidedTP(t, degreesOfFreedom),
  };
}

export interface RankSumTest {
  /** Pairs in which the first group is greater, ties half. */
  u: number;
  /** `u` as a share of all pairs: the AUC of the value for the first group. */
  area: number;
  p: number;
}

/**
 * Mann & Whitney (1947), Annals of Mathematical Statistics 18:50-60: normal approximation with tie
 * and continuity corrections. Undefined when a group is empty or nothing varies.
 */
export function rankSumTest(a: Float64Array, b: Float64Array): RankSumTest | undefined {
  if (a.length === 0 || b.length === 0) return undefined;
  const { sums, ties, total } = rankSums([a, b]);
  const u = sums[0] - (a.length * (a.length + 1)) / 2;
  const pairs = a.length * b.length;
  const variance = (pairs / 12) * (total + 1 - ties / (total * (total - 1)));
  if (!(variance > 0)) return undefined;
  const away = Math.max(0, Math.abs(u - pairs / 2) - 0.5);
  return { u, area: u / pairs, p: twoSidedNormalP(away / Math.sqrt(variance)) };
}

export interface GroupTest {
  statistic: number;
  degreesOfFreedom: number;
  p: number;
}

/**
 * Kruskal & Wallis (1952), Journal of the American Statistical Association 47:583-621, corrected
 * for ties. Empty groups do not count; undefined when fewer than two are left or nothing varies.
 */
export function rankTestOfGroups(groups: Float64Array[]): GroupTest | undefined {
  const used = groups.filter((group) => group.length > 0);
  if (used.length < 2) return undefined;
  const { sums, ties, total } = rankSums(used);
  const correction = 1 - ties / (total ** 3 - total);
  if (!(correction > 0)) return undefined;
  const spread = used.reduce((sum, group, g) => sum + sums[g] ** 2 / group.length, 0);
  const statistic = ((12 / (total * (total + 1))) * spread - 3 * (total + 1)) / correction;
  const degreesOfFreedom = used.length - 1;
  return { statistic, degreesOfFreedom, p: chiSquareUpperTail(statistic, degreesOfFreedom) };
}

export interface VarianceBetween {
  /** Share of the variance that lies between the levels (η²). */
  share: number;
  f: number;
  degreesOfFreedom: [between: number, within: number];
  p: number;
}

/**
 * Analysis of variance over the levels: Fisher (1925), Statistical Methods for Research Workers.
 * The root of `share` is the correlation ratio. Undefined when fewer than two groups have values or
 * nothing varies within or between them.
 */
export function varianceBetween(groups: Float64Array[]): VarianceBetween | undefined {
  const used = groups.filter((group) => group.length > 0);
  const total = used.reduce((sum, group) => sum + group.length, 0);
  if (used.length < 2 || total <= used.length) return undefined;
  const moments = used.map(momentsOf);
  const mean = moments.reduce((sum, one, g) => sum + one.mean * used[g].length, 0) / total;
  const between = moments.reduce((sum, one, g) => sum + used[g].length * (one.mean - mean) ** 2, 0);
  const within = moments.reduce((sum, one, g) => sum + (used[g].length - 1) * one.sd ** 2, 0);
  if (!(between + within > 0)) return undefined;
  const degreesOfFreedom: [number, number] = [used.length - 1, total - used.length];
  const f = within > 0 ? between / degreesOfFreedom[0] / (within / degreesOfFreedom[1]) : Infinity;
  return {
    share: between / (between + within),
    f,
    degreesOfFreedom,
    p: within > 0 ? fUpperTail(f, ...degreesOfFreedom) : 0,
  };
}

/** Rank sums of the groups among all values, and the sum of t³ - t over ties. */
function rankSums(groups: Float64Array[]): { sums: number[]; ties: number; total: number } {
  const total = groups.reduce((sum, group) => sum + group.length, 0);
  const all = new Float64Array(total);
  let place = 0;
  for (const group of groups) {
    all.set(group, place);
    place += group.length;
  }
  const ranks = midRanks(all);
  const sums: number[] = [];
  let from = 0;
  for (const group of groups) {
    sums.push(ranks.subarray(from, from + group.length).reduce((sum, rank) => sum + rank, 0));
    from += group.length;
  }
  return { sums, ties: tieTerm(all.sort()), total };
}

function tieTerm(sorted: Float64Array): number {
  let term = 0;
  for (let start = 0; start < sorted.length;) {
    let end = start + 1;
    while (end < sorted.length && sorted[end] === sorted[start]) end++;
    const tied = end - start;
    term += tied ** 3 - tied;
    start = end;
  }
  return term;
}
