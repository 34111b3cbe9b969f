import { z95 } from '../numeric/index.ts';

export type Interval = [lower: number, upper: number];

/**
 * 95% score interval of a proportion, without continuity correction.
 * Wilson (1927), JASA 22:209-212; method 3 of Newcombe (1998), Statistics in Medicine 17:857-872.
 * Undefined when `total` is 0.
 */
export function wilsonInterval(count: number, total: number): Interval | undefined {
  if (total === 0) return undefined;
  const share = count / total;
  const square = z95 ** 2;
  const centre = 2 * total * share + square;
  const spread = z95 * Math.sqrt(square + 4 * total * share * (1 - share));
  const scale = 2 * (total + square);
  // At 0 and at 1 the bound is exact; the subtraction would leave rounding.
  const lower = count === 0 ? 0 : (centre - spread) / scale;
  const upper = count === total ? 1 : (centre + spread) / scale;
  return [lower, upper];
}

/**
 * 95% interval of a ratio of two proportions a/m and b/n, on the log scale.
 * Simel, Samsa & Matchar (1991), J Clin Epidemiol 44:763-770. Undefined when a or b is 0.
 */
export function ratioInterval(a: number, m: number, b: number, n: number): Interval | undefined {
  if (a === 0 || b === 0) return undefined;
  const logRatio = Math.log(a / m / (b / n));
  const spread = z95 * Math.sqrt(1 / a - 1 / m + 1 / b - 1 / n);
  return [Math.exp(logRatio - spread), Math.exp(logRatio + spread)];
}
