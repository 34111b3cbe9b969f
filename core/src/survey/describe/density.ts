import { sortedQuantile } from '../../numeric/index.ts';
import { momentsOf } from './numbers.ts';

/** A density on an even grid: `heights[i]` stands at start + i·step. */
export interface Density {
  start: number;
  step: number;
  heights: number[];
  bandwidth: number;
}

const gridPoints = 512;
const fewValues = 5;

/**
 * Gaussian kernel density of sorted values without NaN. Bandwidth by Silverman (1986), Density
 * Estimation for Statistics and Data Analysis, p. 48: 0.9·min(SD, IQR/1.34)·n^(-1/5). The values
 * are first shared out over 512 grid points (linear binning), so the time does not grow with
 * their number. Undefined when they do not vary, and for fewer than five different values: those
 * have shares, and a curve between them would show patients where there are none.
 */
export function densityOf(sorted: Float64Array, points = 128): Density | undefined {
  const bandwidth = silverman(sorted);
  if (bandwidth === undefined || countDifferent(sorted, fewValues) < fewValues) return undefined;
  const start = sorted[0] - 3 * bandwidth;
  const fine = (sorted[sorted.length - 1] + 3 * bandwidth - start) / (gridPoints - 1);
  const mass = spreadOut(sorted, start, fine, gridPoints);
  const step = (fine * (gridPoints - 1)) / (points - 1);
  const heights = Array.from({ length: points }, (_, i) =>
    smoothAt(mass, (i * step) / fine, bandwidth / fine),
  );
  const scale = 1 / (sorted.length * bandwidth * Math.sqrt(2 * Math.PI));
  return { start, step, heights: heights.map((height) => height * scale), bandwidth };
}

/** Different ones among sorted values, counted no further than `enough`. */
function countDifferent(sorted: Float64Array, enough: number): number {
  let different = sorted.length > 0 ? 1 : 0;
  for (let i = 1; i < sorted.length && different < enough; i++)
    if (sorted[i] !== sorted[i - 1]) different++;
  return different;
}

/** Undefined when the values do not vary. */
export function silverman(sorted: Float64Array): number | undefined {
  if (sorted.length < 2) return undefined;
  const { sd } = momentsOf(sorted);
  const spread = (sortedQuantile(sorted, 0.75) - sortedQuantile(sorted, 0.25)) / 1.34;
  const scale = spread > 0 ? Math.min(sd, spread) : sd;
  return scale > 0 ? 0.9 * scale * sorted.length ** -0.2 : undefined;
}

/** Weight at each of `count` grid points; each value gives to the two points beside it. */
export function spreadOut(
  values: ArrayLike<number>,
  start: number,
  step: number,
  count: number,
): Float64Array {
  const mass = new Float64Array(count);
  for (let i = 0; i < values.length; i++) {
    const place = (values[i] - start) / step;
    const below = Math.min(Math.max(Math.floor(place), 0), count - 1);
    const share = Math.min(Math.max(place - below, 0), 1);
    mass[below] += 1 - share;
    if (below + 1 < count) mass[below + 1] += share;
  }
  return mass;
}

/** Sum of Gaussian kernels (not normed) at a place on the grid; width in grid steps. */
export function smoothAt(mass: Float64Array, place: number, width: number): number {
  const reach = 6 * width;
  const last = Math.min(mass.length - 1, Math.ceil(place + reach));
  let sum = 0;
  for (let j = Math.max(0, Math.floor(place - reach)); j <= last; j++)
    if (mass[j] > 0) sum += mass[j] * Math.exp(-0.5 * ((j - place) / width) ** 2);
  return sum;
}
