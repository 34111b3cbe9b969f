import type { PredictorColumn } from '../preparation/index.ts';
import { rowCountOf, valuesOf } from './ask.ts';

/** A patient who is like another one. */
export interface Similar {
  row: number;
  /** 0 for the same in all that is known of both, 1 as unlike as can be. */
  distance: number;
  /** Predictors that are known of both. */
  known: number;
}

/**
 * Those of the patients who are most like one, over all predictors that are known of both: Gower (1971),
 * Biometrics 27:857-871; numbers by their distance over the range, ordered levels by steps over all steps, others
 * by whether they are the same. Of whom less than a third of the same is known is not among them.
 *
 * @param patient one row of the same columns
 * @param leftOut a row that is the patient itself
 */
export function mostSimilar(
  patient: PredictorColumn[],
  columns: PredictorColumn[],
  count: number,
  leftOut = -1,
): Similar[] {
  const rows = rowCountOf(columns);
  const sums = new Float64Array(rows);
  const known = new Int32Array(rows);
  columns.forEach((column, j) => {
    const own = valuesOf(patient[j])[0];
    const apart = apartIn(column);
    const values = valuesOf(column);
    for (let i = 0; i < rows; i++) {
      const distance = apart(own, values[i]);
      if (Number.isNaN(distance)) continue;
      sums[i] += distance;
      known[i]++;
    }
  });
  const least = columns.length / 3;
  return Array.from({ length: rows }, (_, row) => row)
    .filter((row) => row !== leftOut && known[row] > 0 && known[row] >= least)
    .map((row) => ({ row, distance: sums[row] / known[row], known: known[row] }))
    .sort((a, b) => a.distance - b.distance || a.row - b.row)
    .slice(0, count);
}

/** How far two values of a column are apart, 0 to 1; not a number where one is not known. */
function apartIn(column: PredictorColumn): (one: number, other: number) => number {
  if (column.type === 'coded') {
    const steps = Math.max(1, column.levels.length - 1);
    return (one, other) => {
      if (one < 0 || other < 0) return NaN;
      if (column.ordered) return Math.abs(one - other) / steps;
      return one === other ? 0 : 1;
    };
  }
  let [least, most] = [Infinity, -Infinity];
  for (const value of column.values) {
    if (value < least) least = value;
    if (value > most) most = value;
  }
  const width = most > least ? most - least : 1;
  // One from beyond the range is no farther away than all of it.
  return (one, other) => Math.min(1, Math.abs(one - other) / width);
}
