import { sortedPresent, sortedQuantile } from '../../numeric/index.ts';
import { histogramOf, type Histogram } from './histogram.ts';

/** What the known values of a number (or of dates, in days) are like. */
export interface NumberDescription {
  least: number;
  lowerQuartile: number;
  median: number;
  upperQuartile: number;
  greatest: number;
  mean: number;
  /** Divisor n - 1; 0 for a single value. */
  sd: number;
  /** Undefined for fewer than three values or when they do not vary. */
  skewness?: number;
  /** Values outside the fences. */
  outliers: number;
  fences: Fences;
  different: number;
  histogram: Histogram;
}

/** Quartiles minus and plus 1.5 interquartile ranges: Tukey (1977), Exploratory Data Analysis. */
export interface Fences {
  lower: number;
  upper: number;
}

/** Undefined when nothing is known. NaN counts as not known. */
export function describeNumbers(values: ArrayLike<number>): NumberDescription | undefined {
  return describeSorted(sortedPresent(values));
}

/** As `describeNumbers`, of values already sorted and without NaN. */
export function describeSorted(sorted: Float64Array): NumberDescription | undefined {
  if (sorted.length === 0) return undefined;
  const lowerQuartile = sortedQuantile(sorted, 0.25);
  const upperQuartile = sortedQuantile(sorted, 0.75);
  const fences = fencesOf(lowerQuartile, upperQuartile);
  const { mean, sd, skewness } = momentsOf(sorted);
  return {
    least: sorted[0],
    lowerQuartile,
    median: sortedQuantile(sorted, 0.5),
    upperQuartile,
    greatest: sorted[sorted.length - 1],
    mean,
    sd,
    skewness,
    outliers: countOutside(sorted, fences),
    fences,
    different: countDifferent(sorted),
    histogram: histogramOf(sorted),
  };
}

export function fencesOf(lowerQuartile: number, upperQuartile: number): Fences {
  const reach = 1.5 * (upperQuartile - lowerQuartile);
  return { lower: lowerQuartile - reach, upper: upperQuartile + reach };
}

export interface Moments {
  mean: number;
  sd: number;
  skewness?: number;
}

/**
 * Mean, SD (divisor n - 1) and the adjusted skewness g1·√(n(n-1))/(n-2): Joanes & Gill (1998), The
 * Statistician 47:183-189. Values must not hold NaN.
 */
export function momentsOf(values: ArrayLike<number>): Moments {
  const count = values.length;
  let mean = 0;
  for (let i = 0; i < count; i++) mean += values[i];
  mean /= count;
  let squares = 0;
  let cubes = 0;
  // What rounding leaves of the mean would show in columns far from zero.
  let left = 0;
  for (let i = 0; i < count; i++) left += values[i] - mean;
  mean += left / count;
  for (let i = 0; i < count; i++) {
    const away = values[i] - mean;
    squares += away * away;
    cubes += away * away * away;
  }
  const sd = count > 1 ? Math.sqrt(squares / (count - 1)) : 0;
  if (count < 3 || !(squares > 0)) return { mean, sd };
  const raw = cubes / count / (squares / count) ** 1.5;
  return { mean, sd, skewness: (raw * Math.sqrt(count * (count - 1))) / (count - 2) };
}

function countOutside(sorted: Float64Array, { lower, upper }: Fences): number {
  let below = 0;
  while (below < sorted.length && sorted[below] < lower) below++;
  let above = 0;
  while (above < sorted.length && sorted[sorted.length - 1 - above] > upper) above++;
  return below + above;
}

function countDifferent(sorted: Float64Array): number {
  let different = 1;
  for (let i = 1; i < sorted.length; i++) if (sorted[i] !== sorted[i - 1]) different++;
  return different;
}
