/**
 * A curve of local quadratic regression with tricube weights: Cleveland & Devlin (1988), JASA 83:596-610.
 * Each place is worked out from the nearest share of the points, none is interpolated.
 *
 * @param x ascending
 * @param y of each x
 * @param at places, ascending
 * @param span share of the points that each place looks at
 */
export function localCurve(
  x: Float64Array,
  y: ArrayLike<number>,
  at: ArrayLike<number>,
  span = 0.75,
): Float64Array {
  const { length } = x;
  const near = Math.max(2, Math.min(length, Math.floor(length * span + 1e-5)));
  const curve = new Float64Array(at.length);
  let from = 0;
  for (let k = 0; k < at.length; k++) {
    const place = at[k];
    // The window of the nearest only ever moves on.
    while (from + near < length && x[from + near] - place < place - x[from]) from++;
    const width = Math.max(place - x[from], x[from + near - 1] - place);
    curve[k] = width > 0 ? fitAt(x, y, place, width) : meanAt(x, y, place);
  }
  return curve;
}

/** Value at the place of the weighted parabola through all points nearer than the width. */
function fitAt(x: Float64Array, y: ArrayLike<number>, place: number, width: number): number {
  const s = [0, 0, 0, 0, 0];
  const t = [0, 0, 0];
  const first = firstFrom(x, place - width);
  for (let i = first; i < x.length && x[i] <= place + width; i++) {
    const d = (x[i] - place) / width;
    const weight = (1 - Math.abs(d) ** 3) ** 3;
    let power = weight;
    for (let k = 0; k < 5; k++) {
      s[k] += power;
      if (k < 3) t[k] += power * y[i];
      power *= d;
    }
  }
  return parabola(s, t) ?? line(s, t) ?? t[0] / s[0];
}

/** Constants of the normal equations, by Cramer's rule; undefined where points are too few to tell. */
function parabola(s: number[], t: number[]): number | undefined {
  const [a, b, c, d, e] = s;
  const determinant = a * (c * e - d * d) - b * (b * e - c * d) + c * (b * d - c * c);
  if (!(determinant > 1e-12 * a * c * e)) return undefined;
  const [p, q, r] = t;
  return (p * (c * e - d * d) - b * (q * e - d * r) + c * (q * d - c * r)) / determinant;
}

function line([a, b, c]: number[], [p, q]: number[]): number | undefined {
  const determinant = a * c - b * b;
  return determinant > 1e-12 * a * c ? (p * c - b * q) / determinant : undefined;
}

function meanAt(x: Float64Array, y: ArrayLike<number>, place: number): number {
  let [sum, count] = [0, 0];
  for (let i = firstFrom(x, place); i < x.length && x[i] === place; i++) {
    sum += y[i];
    count++;
  }
  return sum / count;
}

function firstFrom(x: Float64Array, value: number): number {
  let [low, high] = [0, x.length];
  while (low < high) {
    const middle = (low + high) >>> 1;
    if (x[middle] < value) low = middle + 1;
    else high = middle;
  }
  return low;
}
