import { gradesOf, sortedGrades } from './grades.ts';

/** Above this, counting the different values is faster than sorting them all. */
const manyValues = 2000;

/**
 * Quantile of the values that are not NaN, by linear interpolation between order statistics
 * (type 7 of Hyndman & Fan 1996, The American Statistician 50:361-365). NaN when none is left.
 */
export function quantile(values: ArrayLike<number>, share: number): number {
  return sortedQuantile(sortedPresent(values), share);
}

/** The values that are not NaN, ascending. */
export function sortedPresent(values: ArrayLike<number>): Float64Array {
  if (values.length > manyValues) return sortedGrades(gradesOf(values));
  const present = new Float64Array(values.length);
  let count = 0;
  for (let i = 0; i < values.length; i++)
    if (!Number.isNaN(values[i])) present[count++] = values[i];
  return present.subarray(0, count).sort();
}

/** As `quantile`, of values already sorted and without NaN. */
export function sortedQuantile(sorted: Float64Array, share: number): number {
  if (sorted.length === 0) return NaN;
  const position = (sorted.length - 1) * share;
  const below = Math.floor(position);
  const above = Math.min(below + 1, sorted.length - 1);
  return sorted[below] + (position - below) * (sorted[above] - sorted[below]);
}
