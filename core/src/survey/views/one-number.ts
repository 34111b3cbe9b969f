import { sortedPresent } from '../../numeric/index.ts';
import { byLevel } from '../associate/index.ts';
import {
  densityOf,
  describeSorted,
  histogramOf,
  momentsOf,
  normalQuantilePlot,
  reshapings,
  sharesAlong,
  type Density,
  type Histogram,
  type NumberDescription,
  type QuantilePlot,
  type SharesAlong,
} from '../describe/index.ts';

/** Levels of another column that the patients are parted by. */
export interface Grouping {
  /** -1 where not known. */
  codes: ArrayLike<number>;
  levels: number;
}

/** Everything drawn of one number. */
export interface OneNumber {
  description: NumberDescription;
  histogram: Histogram;
  /** Absent when the values do not vary. */
  density?: Density;
  quantiles: QuantilePlot;
  groups?: GroupOfNumbers[];
  shares?: SharesAlong;
}

export interface GroupOfNumbers {
  patients: number;
  description?: NumberDescription;
  density?: Density;
  /** Counts in the bins of the whole column's histogram. */
  bins: number[];
}

/** @param bins about how many bins the histogram should have */
export function viewNumber(
  values: Float64Array,
  grouping?: Grouping,
  bins?: number,
): OneNumber | undefined {
  const sorted = sortedPresent(values);
  const description = describeSorted(sorted);
  if (!description) return undefined;
  const histogram = histogramOf(sorted, bins);
  return {
    description,
    histogram,
    density: densityOf(sorted),
    quantiles: normalQuantilePlot(sorted),
    groups: grouping && groupsOf(values, grouping, histogram),
    shares: grouping && sharesAlong(values, grouping.codes, grouping.levels),
  };
}

function groupsOf(
  values: Float64Array,
  { codes, levels }: Grouping,
  histogram: Histogram,
): GroupOfNumbers[] {
  return byLevel(values, codes, levels).map((group) => {
    const sorted = group.sort();
    return {
      patients: sorted.length,
      description: describeSorted(sorted),
      density: densityOf(sorted),
      bins: countIn(sorted, histogram),
    };
  });
}

function countIn(sorted: Float64Array, { start, width, counts }: Histogram): number[] {
  const bins = counts.map(() => 0);
  const first = Math.round(start / width);
  for (const value of sorted) {
    const bin = counts.length === 1 ? 0 : Math.floor(value / width + 1e-9) - first;
    bins[Math.min(Math.max(bin, 0), bins.length - 1)]++;
  }
  return bins;
}

/** What a reshaping would do to one number. */
export interface ReshapedNumber {
  way: string;
  lambda: number;
  /** The power is at the end of what is tried. */
  atBound: boolean;
  skewness: number;
  histogram: Histogram;
}

/** Skewness from which a reshaping is worth a thought; common practice. */
export const skewedFrom = 1;

/** Every reshaping the values allow, the least skewed first; empty where they do not vary. */
export function viewReshapings(values: Float64Array): {
  before: number | undefined;
  ways: ReshapedNumber[];
} {
  const sorted = sortedPresent(values);
  return {
    before: sorted.length > 0 ? momentsOf(sorted).skewness : undefined,
    ways: reshapings(sorted)
      .map(({ way, lambda, atBound, skewness, values: reshaped }) => ({
        way,
        lambda,
        atBound,
        skewness,
        histogram: histogramOf(reshaped, 24),
      }))
      .sort((a, b) => Math.abs(a.skewness) - Math.abs(b.skewness)),
  };
}
