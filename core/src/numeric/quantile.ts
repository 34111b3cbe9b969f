import { gradesOf, sortedGrades } from './grades.ts';
import { orderStatistics, presentOf } from './select.ts';

/** Above this, counting the different values is faster than sorting them all. */
const manyValues = 2000;

/**
 * Quantile of the values that are not NaN, by linear interpolation between order statistics
 * (type 7 of Hyndman & Fan 1996, The American Statistician 50:361-365). NaN when none is left.
 */
export const quantile = (values: ArrayLike<number>, share: number): number =>
  quantiles(values, [share])[0];

/** Several quantiles of the same values, for little more than one. */
export function quantiles(values: ArrayLike<number>, shares: number[]): number[] {
  const { count, at } = orderStatistics(values);
  return shares.map((share) => {
    const position = (count - 1) * share;
    const below = Math.floor(position);
    const value = at(below);
    return position === below ? value : value + (position - below) * (at(below + 1) - value);
  });
}

/** The values that are not NaN, ascending. */
export function sortedPresent(values: ArrayLike<number>): Float64Array {
  if (values.length > manyValues) return sortedGrades(gradesOf(values));
  return presentOf(values).sort();
}

/** As `quantile`, of values already sorted and without NaN. */
export function sortedQuantile(sorted: Float64Array, share: number): number {
  if (sorted.length === 0) return NaN;
  const position = (sorted.length - 1) * share;
  const below = Math.floor(position);
  const above = Math.min(below + 1, sorted.length - 1);
  return sorted[below] + (position - below) * (sorted[above] - sorted[below]);
}
