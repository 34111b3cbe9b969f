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
  let [s0, s1, s2, s3, s4, t0, t1, t2] = [0, 0, 0, 0, 0, 0, 0, 0];
  const last = place + width;
  // Written out: every place looks at most of the patients.
  for (let i = firstFrom(x, place - width); i < x.length && x[i] <= last; i++) {
    const d = (x[i] - place) / width;
    const cube = 1 - Math.abs(d * d * d);
    const w0 = cube * cube * cube;
    const w1 = w0 * d;
    const w2 = w1 * d;
    const value = y[i];
    s0 += w0;
    s1 += w1;
    s2 += w2;
    s3 += w2 * d;
    s4 += w2 * d * d;
    t0 += w0 * value;
    t1 += w1 * value;
    t2 += w2 * value;
  }
  const [s, t] = [
    [s0, s1, s2, s3, s4],
    [t0, t1, t2],
  ];
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
