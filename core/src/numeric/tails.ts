import betainc from '@stdlib/math-base-special-betainc';
import gammainc from '@stdlib/math-base-special-gammainc';

/** P(X > x) for a chi-square variable; exact in the far tail too. */
export function chiSquareUpperTail(x: number, degreesOfFreedom: number): number {
  return x <= 0 ? 1 : gammainc(x / 2, degreesOfFreedom / 2, true, true);
}

/** P(|T| > |t|) for Student's t; degrees of freedom need not be whole. */
export function twoSidedTP(t: number, degreesOfFreedom: number): number {
  if (!Number.isFinite(t)) return 0;
  return betainc(degreesOfFreedom / (degreesOfFreedom + t * t), degreesOfFreedom / 2, 0.5);
}

/** P(X > x) for an F variable. */
export function fUpperTail(x: number, between: number, within: number): number {
  return x <= 0 ? 1 : betainc(within / (within + between * x), within / 2, between / 2);
}

/** t with P(T <= t) = 1 - tail, for tail in (0, 0.5]; by bisection of the tail. */
export function tQuantile(tail: number, degreesOfFreedom: number): number {
  let low = 0;
  let high = 2;
  while (twoSidedTP(high, degreesOfFreedom) > 2 * tail) high *= 2;
  // 80 halvings use up the digits of a double.
  for (let i = 0; i < 80; i++) {
    const middle = (low + high) / 2;
    if (twoSidedTP(middle, degreesOfFreedom) > 2 * tail) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
