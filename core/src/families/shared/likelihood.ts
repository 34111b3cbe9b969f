import type { LikelihoodSummary } from '../facets.ts';

/**
 * Figures of a fit whose deviance is -2 log-likelihood. A patient with one of K levels gives K - 1
 * degrees of freedom, so the saturated model has n(K - 1) parameters (Agresti 2013, Categorical Data
 * Analysis, 3rd ed., ch. 8; from memory).
 *
 * @param fit.levels levels that some patient has, K
 * @example 90 patients, 3 levels, 4 slopes for each of 2 equations: 180 - 10 = 170 residual degrees of freedom
 */
export function likelihoodSummary(fit: {
  patients: number;
  levels: number;
  deviance: number;
  nullDeviance: number;
  parameters: number;
  nullParameters: number;
  iterations: number;
}): LikelihoodSummary {
  const { patients, levels, deviance, nullDeviance, parameters, nullParameters, iterations } = fit;
  return {
    patients,
    // Rounding may leave a deviance of zero on the wrong side.
    logLikelihood: -Math.max(0, deviance) / 2 || 0,
    nullDeviance,
    nullDegrees: patients * (levels - 1) - nullParameters,
    residualDeviance: deviance,
    residualDegrees: patients * (levels - 1) - parameters,
    aic: deviance + 2 * parameters,
    bic: deviance + Math.log(patients) * parameters,
    iterations,
  };
}

/** Coefficients that a likelihood was made greatest by, constants left out. */
export const slopesOf = ({ nullDegrees, residualDegrees }: LikelihoodSummary): number =>
  nullDegrees - residualDegrees;

/** -2 log-likelihood of shares alone. */
export function devianceOfShares(counts: ArrayLike<number>): number {
  let total = 0;
  for (let k = 0; k < counts.length; k++) total += counts[k];
  let deviance = 0;
  for (let k = 0; k < counts.length; k++)
    if (counts[k] > 0) deviance -= 2 * counts[k] * Math.log(counts[k] / total);
  return deviance;
}

/** Weighted number of patients of each level. */
export function countCodes(
  codes: ArrayLike<number>,
  levels: number,
  weights?: Float64Array,
): Float64Array {
  const counts = new Float64Array(levels);
  for (let i = 0; i < codes.length; i++) counts[codes[i]] += weights ? weights[i] : 1;
  return counts;
}
