/** Places in 0 to 1 and their weights, by which polynomials are integrated exactly. */
export interface Quadrature {
  at: Float64Array;
  weights: Float64Array;
}

/**
 * Gauss-Legendre quadrature on 0 to 1, exact up to degree 2 × count - 1 (Abramowitz & Stegun 1964, 25.4.29).
 *
 * @example gaussLegendre(1) is { at: [0.5], weights: [1] }
 */
export function gaussLegendre(count: number): Quadrature {
  const at = new Float64Array(count);
  const weights = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    // A first guess that Newton's steps lead to the root nearest to it.
    let x = Math.cos((Math.PI * (i + 0.75)) / (count + 0.5));
    let slope = 1;
    for (let step = 0; step < 100; step++) {
      const [value, before] = legendre(count, x);
      slope = (count * (x * value - before)) / (x * x - 1);
      const move = value / slope;
      x -= move;
      if (Math.abs(move) < 1e-16) break;
    }
    at[i] = (1 - x) / 2;
    weights[i] = 1 / ((1 - x * x) * slope * slope);
  }
  return { at, weights };
}

/** The polynomial of a degree and that of one less, at x. */
function legendre(degree: number, x: number): [number, number] {
  let [before, value] = [1, x];
  for (let k = 2; k <= degree; k++)
    [before, value] = [value, ((2 * k - 1) * x * value - (k - 1) * before) / k];
  return [value, before];
}
