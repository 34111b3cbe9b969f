import { tQuantile, twoSidedTP } from '../numeric/index.ts';

/** The mean of differences that are not independent of each other. */
export interface CorrectedMean {
  mean: number;
  standardError: number;
  degrees: number;
  interval: [number, number];
  p: number;
}

/**
 * Differences of folds, which share most of their patients: the corrected resampled t test (Nadeau & Bengio
 * 2003, Machine Learning 52:239-281). Undefined where there are fewer than two, or all are the same.
 *
 * @param testShare patients who are predicted by those who are learned from, on average of folds
 */
export function correctedMean(differences: number[], testShare: number): CorrectedMean | undefined {
  const count = differences.length;
  if (count < 2 || differences.every((one) => one === differences[0])) return undefined;
  const mean = differences.reduce((sum, one) => sum + one, 0) / count;
  const squares = differences.reduce((sum, one) => sum + (one - mean) ** 2, 0);
  const degrees = count - 1;
  const standardError = Math.sqrt((1 / count + testShare) * (squares / degrees));
  const reach = tQuantile(0.025, degrees) * standardError;
  return {
    mean,
    standardError,
    degrees,
    interval: [mean - reach, mean + reach],
    p: twoSidedTP(mean / standardError, degrees),
  };
}
