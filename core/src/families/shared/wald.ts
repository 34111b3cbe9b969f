import {
  factorise,
  solve,
  tQuantile,
  twoSidedNormalP,
  twoSidedTP,
  z95,
} from '../../numeric/index.ts';
import type { Coefficient } from '../facets.ts';

/**
 * One line of a table of log-odds: z = b / SE, p from the normal distribution, the odds ratio with
 * its 95% interval. What is not finite is left out.
 *
 * @param degrees where the variance is robust by cluster: clusters less 1, and p and interval by Student's t
 */
export function waldLine(
  term: string,
  estimate: number,
  variance: number,
  degrees?: number,
): Coefficient {
  const standardError = Math.sqrt(variance);
  if (!(standardError > 0) || !Number.isFinite(standardError)) return { term, estimate };
  const z = estimate / standardError;
  return {
    term,
    estimate,
    standardError,
    z,
    p: degrees === undefined ? twoSidedNormalP(z) : twoSidedTP(z, degrees),
    ...oddsRatio(estimate, standardError, degrees === undefined ? z95 : tQuantile(0.025, degrees)),
  };
}

/** Infinity and 0 are no ratios, and JSON has no word for the first. */
function oddsRatio(estimate: number, standardError: number, reach: number) {
  const [lower, ratio, upper] = [-reach, 0, reach].map((z) =>
    Math.exp(estimate + z * standardError),
  );
  const sayable = (value: number) => value > 0 && Number.isFinite(value);
  return {
    ...(sayable(ratio) && { oddsRatio: ratio }),
    ...(sayable(lower) &&
      sayable(upper) && { oddsRatioInterval: [lower, upper] as [number, number] }),
  };
}

/**
 * Wald statistic dᵗ V⁻¹ d of several estimates at once, independent of their units; undefined where V is singular.
 *
 * @param covariance V, row-major, of as many rows as there are estimates
 * @example waldStatistic([2, 3], [4, 0, 0, 9]) is 2: (2 / 2)² + (3 / 3)²
 */
export function waldStatistic(
  estimates: ArrayLike<number>,
  covariance: ArrayLike<number>,
): number | undefined {
  const size = estimates.length;
  const errors = Array.from({ length: size }, (_, j) => Math.sqrt(covariance[j * size + j]));
  if (!errors.every((error) => error > 0 && Number.isFinite(error))) return undefined;
  const correlation = new Float64Array(size * size);
  for (let j = 0; j < size; j++)
    for (let k = 0; k < size; k++)
      correlation[j * size + k] = covariance[j * size + k] / (errors[j] * errors[k]);
  const factor = factorise(correlation, size);
  if (factor.kept.includes(false)) return undefined;
  const standardised = errors.map((error, j) => estimates[j] / error);
  const solved = solve(factor, standardised);
  return standardised.reduce((sum, value, j) => sum + value * solved[j], 0);
}
