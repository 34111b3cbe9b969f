import type { LikelihoodSummary } from '../facets.ts';

/** Figures of a fit whose deviance is -2 log-likelihood: one categorical outcome a patient. */
export function likelihoodSummary(fit: {
  patients: number;
  deviance: number;
  nullDeviance: number;
  parameters: number;
  nullParameters: number;
  iterations: number;
}): LikelihoodSummary {
  const { patients, deviance, nullDeviance, parameters, nullParameters, iterations } = fit;
  return {
    patients,
    logLikelihood: -deviance / 2,
    nullDeviance,
    nullDegrees: patients - nullParameters,
    residualDeviance: deviance,
    residualDegrees: patients - parameters,
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
