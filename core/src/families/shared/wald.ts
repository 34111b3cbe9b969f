import { twoSidedNormalP, z95 } from '../../numeric/index.ts';
import type { Coefficient } from '../facets.ts';

/**
 * One line of a table of log-odds: z = b / SE, p from the normal distribution, the odds ratio with
 * its 95% interval. What is not finite is left out.
 */
export function waldLine(term: string, estimate: number, variance: number): Coefficient {
  const standardError = Math.sqrt(variance);
  if (!(standardError > 0) || !Number.isFinite(standardError)) return { term, estimate };
  const z = estimate / standardError;
  return {
    term,
    estimate,
    standardError,
    z,
    p: twoSidedNormalP(z),
    ...oddsRatio(estimate, standardError),
  };
}

/** Infinity and 0 are no ratios, and JSON has no word for the first. */
function oddsRatio(estimate: number, standardError: number) {
  const [lower, ratio, upper] = [-z95, 0, z95].map((z) => Math.exp(estimate + z * standardError));
  const sayable = (value: number) => value > 0 && Number.isFinite(value);
  return {
    ...(sayable(ratio) && { oddsRatio: ratio }),
    ...(sayable(lower) &&
      sayable(upper) && { oddsRatioInterval: [lower, upper] as [number, number] }),
  };
}
