/** The inverse logit 1 / (1 + e^-x), without overflow for any finite x. */
export function logistic(x: number): number {
  if (x >= 0) return 1 / (1 + Math.exp(-x));
  const e = Math.exp(x);
  return e / (1 + e);
}

/** log(1 + e^x) without overflow. */
export const softplus = (x: number): number => Math.max(x, 0) + Math.log1p(Math.exp(-Math.abs(x)));
