import { tQuantile, twoSidedNormalP, twoSidedTP, z95 } from '../../numeric/index.ts';
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
