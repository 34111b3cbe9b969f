import { factorise, symmetricEigen } from '../../numeric/index.ts';
import type { Moments } from './clouds.ts';

/** A direction along which levels lie apart. */
export interface Direction {
  /** Of all that parts levels, the share that lies along it. */
  share: number;
  /** By input; scores have a variance of 1 within levels. */
  weights: Float64Array;
}

/**
 * Directions in which the means of levels lie apart most, in SDs within levels (canonical variates: Rao
 * 1948, JRSS B 10:159-203). There are one fewer than levels at most; the last level lies above the first.
 */
export function directionsOf({ totals, means, within }: Moments): Direction[] {
  const size = means[0].length;
  const factor = factorise(within, size, 1e-9);
  const all = totals.reduce((sum, one) => sum + one, 0);
  const middle = means[0].map((_, j) =>
    means.reduce((sum, mean, level) => sum + (totals[level] / all) * mean[j], 0),
  );
  // Between levels, on the scale on which they are round.
  const between = new Float64Array(size * size);
  means.forEach((mean, level) => {
    const away = whiten(
      factor.lower,
      size,
      mean.map((one, j) => one - middle[j]),
    );
    for (let j = 0; j < size; j++)
      for (let k = 0; k < size; k++)
        between[j * size + k] += (totals[level] / all) * away[j] * away[k];
  });
  const { values, vectors } = symmetricEigen(between, size);
  const sum = values.reduce((total, one) => total + Math.max(0, one), 0);
  const most = Math.min(means.length - 1, size);
  return Array.from({ length: most }, (_, k): Direction => {
    const weights = unwhiten(factor.lower, size, vectors[k]);
    const score = (mean: Float64Array) =>
      mean.reduce((total, one, j) => total + one * weights[j], 0);
    const turned = score(means[means.length - 1]) < score(means[0]) ? -1 : 1;
    return {
      share: sum > 0 ? Math.max(0, values[k]) / sum : 0,
      weights: weights.map((one) => turned * one),
    };
  }).filter(({ share }) => share > 1e-9);
}

/** L⁻¹ x. */
function whiten(lower: Float64Array, size: number, x: Float64Array): Float64Array {
  const z = new Float64Array(size);
  for (let i = 0; i < size; i++) {
    let sum = x[i];
    for (let k = 0; k < i; k++) sum -= lower[i * size + k] * z[k];
    z[i] = sum / lower[i * size + i];
  }
  return z;
}

/** L⁻ᵗ z. */
function unwhiten(lower: Float64Array, size: number, z: Float64Array): Float64Array {
  const x = new Float64Array(size);
  for (let i = size - 1; i >= 0; i--) {
    let sum = z[i];
    for (let k = i + 1; k < size; k++) sum -= lower[k * size + i] * x[k];
    x[i] = sum / lower[i * size + i];
  }
  return x;
}
