import { gradesOf, sortedGrades } from './grades.ts';
import { placeRank } from './select.ts';

/** Above this, counting the different values is faster than sorting them all. */
const manyValues = 2000;

/**
 * Quantile of the values that are not NaN, by linear interpolation between order statistics
 * (type 7 of Hyndman & Fan 1996, The American Statistician 50:361-365). NaN when none is left.
 */
export function quantile(values: ArrayLike<number>, share: number): number {
  const present = presentOf(values);
  if (present.length === 0) return NaN;
  const position = (present.length - 1) * share;
  const below = Math.floor(position);
  const at = placeRank(present, below);
  if (position === below) return at;
  // What stands behind is not less: the least of it comes next.
  let next = present[below + 1];
  for (let i = below + 2; i < present.length; i++) if (present[i] < next) next = present[i];
  return at + (position - below) * (next - at);
}

/** The values that are not NaN, ascending. */
export function sortedPresent(values: ArrayLike<number>): Float64Array {
  if (values.length > manyValues) return sortedGrades(gradesOf(values));
  return presentOf(values).sort();
}

/** A copy of the values that are not NaN, in their order. */
function presentOf(values: ArrayLike<number>): Float64Array {
  const present = new Float64Array(values.length);
  let count = 0;
  for (let i = 0; i < values.length; i++)
    if (!Number.isNaN(values[i])) present[count++] = values[i];
  return present.subarray(0, count);
}

/** As `quantile`, of values already sorted and without NaN. */
export function sortedQuantile(sorted: Float64Array, share: number): number {
  if (sorted.length === 0) return NaN;
  const position = (sorted.length - 1) * share;
  const below = Math.floor(position);
  const above = Math.min(below + 1, sorted.length - 1);
  return sorted[below] + (position - below) * (sorted[above] - sorted[below]);
}
