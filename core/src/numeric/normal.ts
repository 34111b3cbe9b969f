import erfc from '@stdlib/math-base-special-erfc';
import erfcinv from '@stdlib/math-base-special-erfcinv';

/** 0.975 quantile of the standard normal distribution: the half-width of a 95% interval in SE. */
export const z95 = 1.959963984540054;

/** Two-sided p of a standard normal test statistic; exact in the far tails too. */
export function twoSidedNormalP(z: number): number {
  return erfc(Math.abs(z) / Math.SQRT2);
}

/** P(Z > z) for a standard normal Z. */
export function normalUpperTail(z: number): number {
  return 0.5 * erfc(z / Math.SQRT2);
}

/** z with P(Z <= z) = p, for p in (0, 1). */
export function normalQuantile(p: number): number {
  return -Math.SQRT2 * erfcinv(2 * p);
}
