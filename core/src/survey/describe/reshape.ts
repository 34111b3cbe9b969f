import {
  boxCox,
  boxCoxLambda,
  powerBound,
  yeoJohnson,
  yeoJohnsonLambda,
} from '../../numeric/index.ts';
import { momentsOf } from './numbers.ts';

/** One way to take the skew out of a number. */
export interface Reshaping {
  way: 'log' | 'Box–Cox' | 'Yeo–Johnson';
  /** The exponent; 0 for the logarithm. */
  lambda: number;
  /** The likelihood still rose where the search ended: another power may do better. */
  atBound: boolean;
  /** Skewness of the reshaped values. */
  skewness: number;
  values: Float64Array;
}

/** Every way that these values allow, as far as they go; values without NaN. */
export function reshapings(values: Float64Array): Reshaping[] {
  const { skewness } = momentsOf(values);
  if (skewness === undefined) return [];
  const positive = values.every((x) => x > 0);
  const ways: Omit<Reshaping, 'skewness' | 'atBound'>[] = [];
  if (positive) {
    ways.push({ way: 'log', lambda: 0, values: values.map((x) => Math.log(x)) });
    const lambda = boxCoxLambda(values);
    // Relative to the geometric mean: the same shape, and no digit lost in any unit.
    const mean = ways[0].values.reduce((sum, log) => sum + log, 0) / values.length;
    ways.push({
      way: 'Box–Cox',
      lambda,
      values: ways[0].values.map((log) => boxCox(Math.exp(log - mean), lambda)),
    });
  }
  const lambda = yeoJohnsonLambda(values);
  ways.push({ way: 'Yeo–Johnson', lambda, values: values.map((x) => yeoJohnson(x, lambda)) });
  return ways.flatMap((way) => {
    const after = momentsOf(way.values).skewness;
    return after === undefined || !Number.isFinite(after)
      ? []
      : [{ ...way, atBound: powerBound - Math.abs(way.lambda) < 1e-4, skewness: after }];
  });
}
