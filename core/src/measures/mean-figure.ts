import { z95 } from '../numeric/index.ts';
import { reachOf, variationBetween, type Clusters } from './clusters.ts';
import type { Figure } from './rates.ts';

/**
 * A mean with its large-sample 95% interval, by cluster where there are clusters. Without an interval where
 * nothing varies.
 *
 * @param least that the mean can be
 * @example values 1, 2, 3: mean 2, standard error 0.577
 */
export function meanFigure(values: Float64Array, clusters?: Clusters, least = 0): Figure {
  const { length } = values;
  if (length === 0) return {};
  const value = values.reduce((sum, one) => sum + one, 0) / length;
  if (length < 2) return { value };
  const squares = values.reduce((sum, one) => sum + (one - value) ** 2, 0);
  const variance = clusters
    ? variationBetween(
        values.map((one) => (one - value) / length),
        clusters,
      )
    : squares / (length - 1) / length;
  const reach = (clusters ? reachOf(clusters) : z95) * Math.sqrt(variance);
  if (!(reach > 0)) return { value };
  return { value, interval: [Math.max(least, value - reach), value + reach] };
}
