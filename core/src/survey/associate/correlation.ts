import { gradesOf, sharedCounts, twoSidedTP, z95, type Grades } from '../../numeric/index.ts';
import type { Interval } from '../../measures/index.ts';

/**
 * Mid-ranks of values, 1 for the least; NaN stays NaN. Ties share the mean of their ranks, as in
 * Spearman (1904), American Journal of Psychology 15:72-101.
 */
export function midRanks(values: ArrayLike<number>): Float64Array {
  const { codes, counts } = gradesOf(values);
  const ranks = ranksOfGrades(counts);
  return Float64Array.from(codes, (code) => (code < 0 ? NaN : ranks[code]));
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
  return correlateGrades(gradesOf(a), gradesOf(b)).value;
}

/** As `correlation`, of graded columns, with the number of rows where both are known. */
export function correlateGrades(a: Grades, b: Grades): Correlated {
  return correlateScaled(
    a.codes,
    scaleOfValues(a.values, sharedCounts(a, b)),
    b.codes,
    scaleOfValues(b.values, sharedCounts(b, a)),
  );
}

/** Spearman's rank correlation over the rows where both are known. */
export function rankCorrelateGrades(a: Grades, b: Grades): Correlated {
  return correlateScaled(
    a.codes,
    scaleOfRanks(sharedCounts(a, b)),
    b.codes,
    scaleOfRanks(sharedCounts(b, a)),
  );
}

/** What each grade is worth, counted from the mean of the rows that count. */
export interface Scale {
  offsets: Float64Array;
  /** Sum of the rows' squared offsets. */
  squares: number;
  /** Rows that count. */
  patients: number;
}

/** Each grade by its value. */
export function scaleOfValues(values: Float64Array, counts: Float64Array): Scale {
  let patients = 0;
  let mean = 0;
  for (let k = 0; k < values.length; k++) {
    patients += counts[k];
    mean += counts[k] * values[k];
  }
  mean /= patients;
  let left = 0;
  for (let k = 0; k < values.length; k++) left += counts[k] * (values[k] - mean);
  // What rounding left of the mean would show in numbers far from zero.
  mean += left / patients;
  const offsets = new Float64Array(values.length);
  let squares = 0;
  for (let k = 0; k < values.length; k++) {
    offsets[k] = values[k] - mean;
    squares += counts[k] * offsets[k] * offsets[k];
  }
  return { offsets, squares, patients };
}

/** Each grade by its mid-rank. */
export function scaleOfRanks(counts: Float64Array): Scale {
  return scaleOfValues(ranksOfGrades(counts), counts);
}

/** Both scales are of the rows that both columns know: one pass over their products is all there is. */
export function correlateScaled(
  codesA: Int32Array,
  a: Scale,
  codesB: Int32Array,
  b: Scale,
): Correlated {
  const { patients } = a;
  const squares = Math.sqrt(a.squares * b.squares);
  if (patients < 3 || !(squares > 0)) return { value: NaN, patients };
  let products = 0;
  for (let row = 0; row < codesA.length; row++) {
    const codeA = codesA[row];
    const codeB = codesB[row];
    if (codeA >= 0 && codeB >= 0) products += a.offsets[codeA] * b.offsets[codeB];
  }
  return { value: Math.min(1, Math.max(-1, products / squares)), patients };
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
