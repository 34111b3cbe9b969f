import { maximiseOne } from '../../numeric/index.ts';
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

/** The powers that are tried. */
const bound = 5;

/**
 * λ of greatest profile likelihood in [-5, 5], the same in every unit. Values must be positive and
 * must vary.
 */
export function boxCoxLambda(values: Float64Array): number {
  return likeliestOfLogs(values.map((x) => Math.log(x)));
}

/**
 * λ of greatest profile likelihood in [-5, 5]. Values must vary. It depends on the unit by its
 * definition, which adds 1 to every value.
 */
export function yeoJohnsonLambda(values: Float64Array): number {
  // On one side of zero it is the power of Box & Cox of x + 1, or of 1 - x with 2 - λ.
  if (values.every((x) => x >= 0)) return likeliestOfLogs(values.map((x) => Math.log1p(x)));
  if (values.every((x) => x <= 0))
    return (
      2 -
      likeliestOfLogs(
        values.map((x) => Math.log1p(-x)),
        2 - bound,
        2 + bound,
      )
    );
  const sum = values.reduce((total, x) => total + Math.sign(x) * Math.log1p(Math.abs(x)), 0);
  return likeliest((lambda) => ({
    reshaped: values.map((x) => yeoJohnson(x, lambda)),
    jacobian: (lambda - 1) * sum,
  }));
}

/**
 * The power of values given by their logarithms, taken relative to their geometric mean: of values
 * far from 1 the powers would otherwise lose every digit in which they differ.
 */
function likeliestOfLogs(logs: Float64Array, low = -bound, high = bound): number {
  const mean = logs.reduce((total, log) => total + log, 0) / logs.length;
  const centred = logs.map((log) => log - mean);
  return likeliest(
    (lambda) => ({
      reshaped: centred.map((log) => (lambda === 0 ? log : Math.expm1(lambda * log) / lambda)),
      jacobian: 0,
    }),
    low,
    high,
  );
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
      : [{ ...way, atBound: bound - Math.abs(way.lambda) < 1e-4, skewness: after }];
  });
}

function likeliest(
  at: (lambda: number) => { reshaped: Float64Array; jacobian: number },
  low = -bound,
  high = bound,
): number {
  return maximiseOne(
    (lambda) => {
      const { reshaped, jacobian } = at(lambda);
      const { sd } = momentsOf(reshaped);
      const count = reshaped.length;
      const variance = (sd * sd * (count - 1)) / count;
      return variance > 0 ? jacobian - (count / 2) * Math.log(variance) : -Infinity;
    },
    low,
    high,
  );
}
