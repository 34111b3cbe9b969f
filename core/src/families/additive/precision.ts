import { logistic } from '../../numeric/index.ts';
import type { Clusters } from '../../measures/index.ts';
import { clusterCovariance } from '../shared/index.ts';
import { productsOf, scoreOfDesign, sumsOf, type Design } from './design.ts';
import type { Fit } from './fit.ts';
import type { Precision } from './told.ts';

interface Observed {
  kind: 'event' | 'number';
  values: ArrayLike<number>;
  weights: Float64Array;
  clusters?: Clusters;
}

/**
 * The posterior covariance of the coefficients (Wood 2017, Generalized Additive Models, 2nd ed., 6.10). Where rows are
 * of one patient or group, its sampling part is robust by cluster; the part for the bias of smoothing stays.
 */
export function precisionOf(design: Design, fit: Fit, observed: Observed): Precision {
  const { inverse, scale, degrees } = fit;
  const posterior = inverse.map((one) => one * scale);
  const used = degrees.reduce((sum, one) => sum + one, 0);
  const { kind, weights, clusters } = observed;
  const patients = weights.reduce((sum, one) => sum + one, 0);
  if (!clusters)
    return { covariance: posterior, ...(kind === 'number' && { left: patients - used }) };
  const fitted = sumsOf(design, fit.coefficients);
  if (kind === 'event') for (let i = 0; i < fitted.length; i++) fitted[i] = logistic(fitted[i]);
  const residual = (row: number) => weights[row] * (observed.values[row] - fitted[row]);
  const score = scoreOfDesign(design, residual);
  const sampling = clusterCovariance(inverse, design.size, used, clusters, score);
  const working =
    kind === 'event' ? weights.map((one, i) => one * fitted[i] * (1 - fitted[i])) : weights;
  const independent = around(inverse, productsOf(design, working, fitted).matrix, design.size);
  const covariance = posterior.map((one, at) => one - scale * independent[at] + sampling[at]);
  return { covariance, left: clusters.count - 1 };
}

/** A M A of symmetric matrices, row-major. */
function around(a: Float64Array, m: Float64Array, size: number): Float64Array {
  return times(times(a, m, size), a, size);
}

function times(a: Float64Array, b: Float64Array, size: number): Float64Array {
  const product = new Float64Array(size * size);
  for (let i = 0; i < size; i++)
    for (let k = 0; k < size; k++) {
      const own = a[i * size + k];
      if (own === 0) continue;
      for (let j = 0; j < size; j++) product[i * size + j] += own * b[k * size + j];
    }
  return product;
}
