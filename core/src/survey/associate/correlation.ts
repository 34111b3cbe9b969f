import { gradesOf, sharedCounts, twoSidedTP, z95, type Grades } from '../../numeric/index.ts';
import type { Interval } from '../../measures/index.ts';

/**
 * Mid-ranks of values, 1 for the least; NaN stays NaN. Ties share the mean of their ranks, as in
 * Spearman (1904), American Journal of Psychology 15:72-101.
 */
export function midRanks(values: ArrayLike<number>): Float64Array {
  const { codes, counts } = gradesOf(values);
  return spreadGrades(codes, ranksOfGrades(counts));
}

/** The mid-rank of each grade, from how many rows have it. */
export function ranksOfGrades(counts: Float64Array): Float64Array {
  const ranks = new Float64Array(counts.length);
  let below = 0;
  for (let k = 0; k < counts.length; k++) {
    ranks[k] = below + (counts[k] + 1) / 2;
    below += counts[k];
  }
  return ranks;
}

/** What each row has by its grade; NaN where not known. */
export function spreadGrades(codes: Int32Array, ofGrade: Float64Array): Float64Array {
  const spread = new Float64Array(codes.length);
  for (let row = 0; row < codes.length; row++)
    spread[row] = codes[row] < 0 ? NaN : ofGrade[codes[row]];
  return spread;
}

/** A correlation, and the number of rows where both are known. */
export interface Correlated {
  value: number;
  patients: number;
}

/**
 * Pearson's correlation over the rows where both are known (not NaN).
 * NaN when fewer than three rows are left or one side does not vary.
 */
export function correlation(a: ArrayLike<number>, b: ArrayLike<number>): number {
  return correlate(a, b).value;
}

/** As `correlation`, with the number of rows where both are known. */
export function correlate(a: ArrayLike<number>, b: ArrayLike<number>): Correlated {
  let patients = 0;
  let meanA = 0;
  let meanB = 0;
  for (let i = 0; i < a.length; i++) {
    const [x, y] = [a[i], b[i]];
    if (x !== x || y !== y) continue;
    patients++;
    meanA += x;
    meanB += y;
  }
  meanA /= patients;
  meanB /= patients;
  let squaresA = 0;
  let squaresB = 0;
  let products = 0;
  let leftA = 0;
  let leftB = 0;
  for (let i = 0; i < a.length; i++) {
    const fromA = a[i] - meanA;
    const fromB = b[i] - meanB;
    if (fromA !== fromA || fromB !== fromB) continue;
    leftA += fromA;
    leftB += fromB;
    squaresA += fromA * fromA;
    squaresB += fromB * fromB;
    products += fromA * fromB;
  }
  // What rounding left of the means would show in columns far from zero.
  squaresA -= (leftA * leftA) / patients;
  squaresB -= (leftB * leftB) / patients;
  products -= (leftA * leftB) / patients;
  if (patients < 3 || !(squaresA > 0) || !(squaresB > 0)) return { value: NaN, patients };
  return { value: withinOne(products / Math.sqrt(squaresA * squaresB)), patients };
}

/** Spearman's rank correlation over the rows where both are known. */
export function rankCorrelate(a: ArrayLike<number>, b: ArrayLike<number>): Correlated {
  return rankCorrelateGrades(gradesOf(a), gradesOf(b));
}

/** As `rankCorrelate`, of graded columns: the rows that both know are only counted. */
export function rankCorrelateGrades(a: Grades, b: Grades): Correlated {
  const countsA = sharedCounts(a, b);
  const countsB = sharedCounts(b, a);
  const ranksA = centred(countsA);
  const ranksB = centred(countsB);
  const patients = countsA.reduce((sum, count) => sum + count, 0);
  const squares = Math.sqrt(squaresOf(ranksA, countsA) * squaresOf(ranksB, countsB));
  if (patients < 3 || !(squares > 0)) return { value: NaN, patients };
  let products = 0;
  for (let row = 0; row < a.codes.length; row++) {
    const codeA = a.codes[row];
    const codeB = b.codes[row];
    if (codeA >= 0 && codeB >= 0) products += ranksA[codeA] * ranksB[codeB];
  }
  return { value: withinOne(products / squares), patients };
}

/** Mid-ranks of the grades from the mean rank, which is the same for every column. */
function centred(counts: Float64Array): Float64Array {
  const ranks = ranksOfGrades(counts);
  const middle = (counts.reduce((sum, count) => sum + count, 0) + 1) / 2;
  for (let k = 0; k < ranks.length; k++) ranks[k] -= middle;
  return ranks;
}

function squaresOf(ranks: Float64Array, counts: Float64Array): number {
  let sum = 0;
  for (let k = 0; k < ranks.length; k++) sum += counts[k] * ranks[k] * ranks[k];
  return sum;
}

const withinOne = (value: number) => Math.min(1, Math.max(-1, value));

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
