import { twoSidedNormalP, z95 } from '../../numeric/index.ts';
import type { Coefficient } from '../family.ts';

/**
 * Wald statistics of each kept coefficient: z = b / SE, p from the normal distribution. A term that
 * the outcome is separated by has none, and a number that is not finite is left out.
 */
export function describeCoefficients(model: {
  terms: string[];
  estimates: number[];
  covariance: (number | null)[];
  keptInputs: boolean[];
  separated?: boolean[];
}): Coefficient[] {
  const size = model.terms.length;
  return model.terms.flatMap((term, j): Coefficient[] => {
    if (j > 0 && !model.keptInputs[j - 1]) return [];
    if (model.separated?.[j]) return [{ term }];
    const estimate = model.estimates[j];
    const standardError = Math.sqrt(model.covariance[j * size + j] ?? NaN);
    if (!(standardError > 0) || !Number.isFinite(standardError)) return [{ term, estimate }];
    const z = estimate / standardError;
    return [
      {
        term,
        estimate,
        standardError,
        z,
        p: twoSidedNormalP(z),
        ...oddsRatio(estimate, standardError),
      },
    ];
  });
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
