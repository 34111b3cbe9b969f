import { maximiseOne } from '../../numeric/index.ts';
import { momentsOf } from './numbers.ts';

/** One way to take the skew out of a number. */
export interface Reshaping {
  way: 'log' | 'Box–Cox' | 'Yeo–Johnson';
  /** The exponent; 0 for the logarithm. */
  lambda: number;
  /** Skewness of the reshaped values. */
  skewness: number;
  values: Float64Array;
}

/**
 * Box & Cox (1964), Journal of the Royal Statistical Society B 26:211-252: (x^λ - 1)/λ, the
 * logarithm at λ = 0. For positive numbers.
 */
export function boxCox(x: number, lambda: number): number {
  return lambda === 0 ? Math.log(x) : Math.expm1(lambda * Math.log(x)) / lambda;
}

/** Yeo & Johnson (2000), Biometrika 87:954-959: for any number. */
export function yeoJohnson(x: number, lambda: number): number {
  return x >= 0 ? boxCox(x + 1, lambda) : -boxCox(1 - x, 2 - lambda);
}

/** λ of greatest profile likelihood in [-5, 5]. Values must be positive and must vary. */
export function boxCoxLambda(values: Float64Array): number {
  const logs = values.map((x) => Math.log(x));
  const sum = logs.reduce((total, log) => total + log, 0);
  return likeliest((lambda) => ({
    reshaped: logs.map((log) => (lambda === 0 ? log : Math.expm1(lambda * log) / lambda)),
    jacobian: (lambda - 1) * sum,
  }));
}

/** λ of greatest profile likelihood in [-5, 5]. Values must vary. */
export function yeoJohnsonLambda(values: Float64Array): number {
  const sum = values.reduce((total, x) => total + Math.sign(x) * Math.log1p(Math.abs(x)), 0);
  return likeliest((lambda) => ({
    reshaped: values.map((x) => yeoJohnson(x, lambda)),
    jacobian: (lambda - 1) * sum,
  }));
}

/** Every way that these values allow, as far as they go; values without NaN. */
export function reshapings(values: Float64Array): Reshaping[] {
  const { skewness } = momentsOf(values);
  if (skewness === undefined) return [];
  const positive = values.every((x) => x > 0);
  const ways: Omit<Reshaping, 'skewness'>[] = [];
  if (positive) {
    ways.push({ way: 'log', lambda: 0, values: values.map((x) => Math.log(x)) });
    const lambda = boxCoxLambda(values);
    ways.push({ way: 'Box–Cox', lambda, values: values.map((x) => boxCox(x, lambda)) });
  }
  const lambda = yeoJohnsonLambda(values);
  ways.push({ way: 'Yeo–Johnson', lambda, values: values.map((x) => yeoJohnson(x, lambda)) });
  return ways.flatMap((way) => {
    const after = momentsOf(way.values).skewness;
    return after === undefined || !Number.isFinite(after) ? [] : [{ ...way, skewness: after }];
  });
}

function likeliest(at: (lambda: number) => { reshaped: Float64Array; jacobian: number }): number {
  return maximiseOne(
    (lambda) => {
      const { reshaped, jacobian } = at(lambda);
      const { sd } = momentsOf(reshaped);
      const count = reshaped.length;
      const variance = (sd * sd * (count - 1)) / count;
      return variance > 0 ? jacobian - (count / 2) * Math.log(variance) : -Infinity;
    },
    -5,
    5,
  );
}
