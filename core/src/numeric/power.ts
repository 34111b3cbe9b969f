import { maximiseOne } from './maximise-one.ts';

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
export const powerBound = 5;

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
        2 - powerBound,
        2 + powerBound,
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
function likeliestOfLogs(logs: Float64Array, low = -powerBound, high = powerBound): number {
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

function likeliest(
  at: (lambda: number) => { reshaped: Float64Array; jacobian: number },
  low = -powerBound,
  high = powerBound,
): number {
  return maximiseOne(
    (lambda) => {
      const { reshaped, jacobian } = at(lambda);
      const count = reshaped.length;
      const variance = varianceOf(reshaped);
      return variance > 0 ? jacobian - (count / 2) * Math.log(variance) : -Infinity;
    },
    low,
    high,
  );
}

/** With divisor n. */
function varianceOf(values: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i];
  const mean = sum / values.length;
  let squares = 0;
  for (let i = 0; i < values.length; i++) squares += (values[i] - mean) ** 2;
  return squares / values.length;
}
