/** A cubic spline between knots, and straight beyond them (de Boor 1978, A Practical Guide to Splines). */
export interface Spline {
  /** Ends and places between, ascending; pieces of the curve meet there. */
  knots: number[];
}

/** Values of the four pieces that are not zero at a place, from `first` on. */
export interface Bases {
  first: number;
  values: Float64Array;
}

/** How many functions the spline is made of. */
export const countOf = ({ knots }: Spline): number => knots.length + 2;

/**
 * Knots at evenly spread quantiles of the different values.
 *
 * @param count knots at most; fewer where values are few
 * @returns undefined where there are too few for a curve
 */
export function splineOf(column: Float64Array, count: number): Spline | undefined {
  const different = [...new Set(column)].sort((a, b) => a - b);
  const pieces = Math.min(count, different.length - 2) - 1;
  if (pieces < 2) return undefined;
  const knots = Array.from({ length: pieces + 1 }, (_, k) => {
    const place = ((different.length - 1) * k) / pieces;
    const below = Math.min(different.length - 2, Math.floor(place));
    return different[below] + (place - below) * (different[below + 1] - different[below]);
  });
  return { knots };
}

/** @param order of the derivative, 0 to 3 */
export function basesAt({ knots }: Spline, x: number, order = 0): Bases {
  const last = knots.length - 1;
  const piece = pieceAt(knots, x);
  // Knots at the ends count four times.
  const t = (k: number) => knots[Math.max(0, Math.min(last, piece + k))];
  let values = new Float64Array([1, 0, 0, 0]);
  for (let degree = 1; degree <= 3; degree++) {
    const next = new Float64Array(4);
    for (let k = 0; k <= degree; k++) {
      const isSlope = degree > 3 - order;
      // The function that begins `degree - k` knots before this piece.
      const from = k - degree;
      if (k > 0) {
        const width = t(from + degree) - t(from);
        if (width > 0) next[k] += (values[k - 1] * (isSlope ? degree : x - t(from))) / width;
      }
      if (k < degree) {
        const width = t(from + degree + 1) - t(from + 1);
        if (width > 0)
          next[k] += (values[k] * (isSlope ? -degree : t(from + degree + 1) - x)) / width;
      }
    }
    values = next;
  }
  return { first: piece, values };
}

/** The four functions of each piece as powers of the distance from where it begins: 16 numbers a piece. */
export function powersOf(spline: Spline): Float64Array {
  const { knots } = spline;
  const powers = new Float64Array(16 * (knots.length - 1));
  for (let piece = 0; piece + 1 < knots.length; piece++)
    [1, 1, 2, 6].forEach((factorial, order) => {
      const { values } = basesAt(spline, knots[piece], order);
      for (let k = 0; k < 4; k++) powers[16 * piece + 4 * k + order] = values[k] / factorial;
    });
  return powers;
}

/** The piece in which a place lies; the first and the last hold what is beyond the ends. */
export function pieceAt(knots: number[], x: number): number {
  let [piece, beyond] = [0, knots.length - 1];
  while (beyond - piece > 1) {
    const middle = (piece + beyond) >> 1;
    if (x >= knots[middle]) piece = middle;
    else beyond = middle;
  }
  return piece;
}

/** The curve with these coefficients: a straight line beyond the ends. */
export function curveOf(spline: Spline, coefficients: ArrayLike<number>): (x: number) => number {
  const { knots } = spline;
  const powers = powersOf(spline);
  const pieces = knots.length - 1;
  // Of each piece the sum of its four functions.
  const own = new Float64Array(4 * pieces);
  for (let piece = 0; piece < pieces; piece++)
    for (let k = 0; k < 4; k++)
      for (let order = 0; order < 4; order++)
        own[4 * piece + order] += coefficients[piece + k] * powers[16 * piece + 4 * k + order];
  const [low, high] = [knots[0], knots[pieces]];
  return (x) => {
    const end = x < low ? low : x > high ? high : x;
    const at = 4 * pieceAt(knots, end);
    const u = end - knots[at / 4];
    const value = own[at] + u * (own[at + 1] + u * (own[at + 2] + u * own[at + 3]));
    return x === end
      ? value
      : value + (x - end) * (own[at + 1] + u * (2 * own[at + 2] + 3 * u * own[at + 3]));
  };
}

/** How bent a curve is: ∫ (second derivative)², as a form of its coefficients, row-major. */
export function bending(spline: Spline): Float64Array {
  const { knots } = spline;
  const size = countOf(spline);
  const form = new Float64Array(size * size);
  for (let piece = 0; piece + 1 < knots.length; piece++) {
    const [from, to] = [knots[piece], knots[piece + 1]];
    // Straight between knots: its square is a parabola, which Simpson's rule integrates exactly.
    const inside = (share: number) => from + share * (to - from);
    for (const [share, weight] of [
      [1e-9, 1 / 6],
      [0.5, 4 / 6],
      [1 - 1e-9, 1 / 6],
    ]) {
      const { first, values } = basesAt(spline, inside(share), 2);
      for (let i = 0; i < 4; i++)
        for (let j = 0; j < 4; j++)
          form[(first + i) * size + first + j] += weight * (to - from) * values[i] * values[j];
    }
  }
  return form;
}
