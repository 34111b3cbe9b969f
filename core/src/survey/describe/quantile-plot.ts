import { normalQuantile, sortedQuantile } from '../../numeric/index.ts';

/** Ordered values against the quantiles of a standard normal, and the line through the quartiles. */
export interface QuantilePlot {
  points: { normal: number; value: number }[];
  /** value = intercept + slope · normal. */
  intercept: number;
  slope: number;
}

/**
 * Plotting positions (i - 3/8) / (n + 1/4): Blom (1958), Statistical Estimates and Transformed
 * Beta-Variables. Long columns are thinned evenly, the ends kept.
 *
 * @param sorted ascending, without NaN, not empty
 */
export function normalQuantilePlot(sorted: Float64Array, most = 400): QuantilePlot {
  const count = sorted.length;
  const shown = Math.min(count, most);
  const points = Array.from({ length: shown }, (_, k) => {
    const i = shown === 1 ? 0 : Math.round((k * (count - 1)) / (shown - 1));
    return { normal: normalQuantile((i + 1 - 0.375) / (count + 0.25)), value: sorted[i] };
  });
  const lower = sortedQuantile(sorted, 0.25);
  const upper = sortedQuantile(sorted, 0.75);
  const reach = normalQuantile(0.75);
  const slope = (upper - lower) / (2 * reach);
  return { points, intercept: (upper + lower) / 2, slope };
}
