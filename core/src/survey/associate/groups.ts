import {
  chiSquareUpperTail,
  fUpperTail,
  gradesOf,
  tQuantile,
  twoSidedNormalP,
  twoSidedTP,
  type Grades,
} from '../../numeric/index.ts';
import type { Interval } from '../../measures/index.ts';
import { ranksOfGrades } from './correlation.ts';

/** Numbers of patients parted into groups; who is not known in one of the two does not count. */
export interface Grouped {
  grades: Grades;
  /** The group of each row, -1 where not known. */
  groups: ArrayLike<number>;
  count: number;
}

/** Lists of known numbers, one a group, as the tests take them. */
export function grouped(lists: ArrayLike<number>[]): Grouped {
  const numbers = lists.flatMap((list) => Array.from(list));
  const groups = lists.flatMap((list, g) => Array.from(list, () => g));
  return { grades: gradesOf(numbers), groups, count: lists.length };
}

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

/** Patients, mean and sum of squares about it, one entry a group; the mean of nobody is NaN. */
export interface GroupMoments {
  sizes: Float64Array;
  means: Float64Array;
  squares: Float64Array;
}

export function momentsOfGroups({ grades, groups, count }: Grouped): GroupMoments {
  const { values, codes } = grades;
  const sizes = new Float64Array(count);
  const means = new Float64Array(count);
  for (let row = 0; row < codes.length; row++) {
    const group = groups[row];
    if (codes[row] < 0 || group < 0) continue;
    sizes[group]++;
    means[group] += values[codes[row]];
  }
  for (let g = 0; g < count; g++) means[g] /= sizes[g];
  const left = new Float64Array(count);
  const squares = new Float64Array(count);
  for (let row = 0; row < codes.length; row++) {
    const group = groups[row];
    if (codes[row] < 0 || group < 0) continue;
    const away = values[codes[row]] - means[group];
    left[group] += away;
    squares[group] += away * away;
  }
  // What rounding left of the means would show in numbers far from zero.
  for (let g = 0; g < count; g++) {
    means[g] += left[g] / sizes[g];
    squares[g] = Math.max(0, squares[g] - (left[g] * left[g]) / sizes[g]);
  }
  return { sizes, means, squares };
}

/** As `momentsOfGroups` in one pass, of offsets from the mean: so near to zero, squares lose no digits. */
export function momentsOfOffsets(
  codes: Int32Array,
  offsets: Float64Array,
  groups: ArrayLike<number>,
  count: number,
): GroupMoments {
  const sizes = new Float64Array(count);
  const means = new Float64Array(count);
  const squares = new Float64Array(count);
  for (let row = 0; row < codes.length; row++) {
    const group = groups[row];
    if (group < 0 || codes[row] < 0) continue;
    const x = offsets[codes[row]];
    sizes[group]++;
    means[group] += x;
    squares[group] += x * x;
  }
  for (let g = 0; g < count; g++) {
    means[g] /= sizes[g];
    squares[g] = Math.max(0, squares[g] - sizes[g] * means[g] * means[g]);
  }
  return { sizes, means, squares };
}

export interface MeanDifference {
  /** Mean of the second group minus that of the first. */
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
export function welch({ sizes, means, squares }: GroupMoments): MeanDifference | undefined {
  const [a, b] = sizes;
  if (a < 2 || b < 2) return undefined;
  const [partA, partB] = [squares[0] / (a - 1) / a, squares[1] / (b - 1) / b];
  const variance = partA + partB;
  if (!(variance > 0)) return undefined;
  const difference = means[1] - means[0];
  const degreesOfFreedom = variance ** 2 / (partA ** 2 / (a - 1) + partB ** 2 / (b - 1));
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
  /** Pairs in which the second group is greater, ties half. */
  u: number;
  /** `u` as a share of all pairs: the AUC of the value for the second group. */
  area: number;
  /** Distance from the mean over the standard deviation, both of no difference; never negative. */
  z: number;
  p: number;
}

/**
 * Mann & Whitney (1947), Annals of Mathematical Statistics 18:50-60: normal approximation with tie
 * and continuity corrections. Undefined when a group is empty or nothing varies.
 */
export function rankSumTest(two: Grouped): RankSumTest | undefined {
  const { sizes, sums, ties, total } = rankSums(two);
  const [a, b] = sizes;
  if (a === 0 || b === 0) return undefined;
  const u = sums[1] - (b * (b + 1)) / 2;
  const pairs = a * b;
  const variance = (pairs / 12) * (total + 1 - ties / (total * (total - 1)));
  if (!(variance > 0)) return undefined;
  const z = Math.max(0, Math.abs(u - pairs / 2) - 0.5) / Math.sqrt(variance);
  return { u, area: u / pairs, z, p: twoSidedNormalP(z) };
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
export function rankTestOfGroups(all: Grouped): GroupTest | undefined {
  const { sizes, sums, ties, total } = rankSums(all);
  const used = Array.from(sizes.keys()).filter((g) => sizes[g] > 0);
  if (used.length < 2) return undefined;
  const correction = 1 - ties / (total ** 3 - total);
  if (!(correction > 0)) return undefined;
  const spread = used.reduce((sum, g) => sum + sums[g] ** 2 / sizes[g], 0);
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
export function varianceBetween({
  sizes,
  means,
  squares,
}: GroupMoments): VarianceBetween | undefined {
  const used = Array.from(sizes.keys()).filter((g) => sizes[g] > 0);
  const sumOver = (term: (g: number) => number) => used.reduce((sum, g) => sum + term(g), 0);
  const total = sumOver((g) => sizes[g]);
  if (used.length < 2 || total <= used.length) return undefined;
  const mean = sumOver((g) => means[g] * sizes[g]) / total;
  const between = sumOver((g) => sizes[g] * (means[g] - mean) ** 2);
  const within = sumOver((g) => squares[g]);
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

/** Sizes and rank sums of the groups among all values, and the sum of t³ - t over ties. */
function rankSums({ grades, groups, count }: Grouped) {
  const { codes } = grades;
  const counts = new Float64Array(grades.values.length);
  for (let row = 0; row < codes.length; row++)
    if (codes[row] >= 0 && groups[row] >= 0) counts[codes[row]]++;
  const ranks = ranksOfGrades(counts);
  const sizes = new Float64Array(count);
  const sums = new Float64Array(count);
  for (let row = 0; row < codes.length; row++) {
    const group = groups[row];
    if (codes[row] < 0 || group < 0) continue;
    sizes[group]++;
    sums[group] += ranks[codes[row]];
  }
  let [total, ties] = [0, 0];
  for (const tied of counts) {
    total += tied;
    ties += tied ** 3 - tied;
  }
  return { sizes, sums, ties, total };
}
