import { compiledAlteredWalk } from '../numeric/index.ts';
import type { Inputs } from '../inputs/index.ts';
import { addLeaves, treeCount, type Ensemble } from './ensemble.ts';

/**
 * Sums of leaves of patients as if some of their inputs were others: only where a changed input leads a patient
 * another way is the rest of that way gone, once for all alternatives that take it. Without such a kernel each
 * alternative is gone through by itself.
 *
 * @param alternatives the same patients, each alternative with other values of some inputs
 * @param start what sums begin with, patients × groups × width
 * @returns sums as `addLeaves` makes them, of each alternative; the same but for rounding
 */
export function alteredSums(
  ensemble: Ensemble,
  inputs: Inputs,
  alternatives: Inputs[],
  start: (rowCount: number) => Float64Array,
  { groups = 1, width = 1 } = {},
): Float64Array[] {
  const size = groups * width;
  const altered = alternatives.map(({ columns }) =>
    columns.flatMap((column, j) => (isSame(column, inputs.columns[j]) ? [] : [j])),
  );
  const walk = compiledAlteredWalk(ensemble, inputs.columns.length, altered, width, size);
  if (!walk)
    return alternatives.map((one) => {
      const sums = start(one.rowCount);
      addLeaves(ensemble, one, sums, { groups, width });
      return sums;
    });
  const plain = start(inputs.rowCount);
  const found = alternatives.map(() => new Float64Array(plain.length));
  for (let from = 0; from < inputs.rowCount; from += walk.rows) {
    const rows = Math.min(walk.rows, inputs.rowCount - from);
    inputs.columns.forEach((column, j) => walk.columns[j].set(column.subarray(from, from + rows)));
    altered.forEach((own, a) =>
      own.forEach((j, at) => {
        const column = alternatives[a].columns[j];
        const { values, first, step } = walk.altered[a][at];
        for (let i = 0; i < rows; i++) values[first + i * step] = column[from + i];
      }),
    );
    walk.sums.set(plain.subarray(from * size, (from + rows) * size));
    walk.more[0]?.values.fill(0);
    for (let tree = 0; tree < treeCount(ensemble); tree++)
      walk.add(ensemble.starts[tree], rows, (tree % groups) * width);
    found.forEach((sums, a) => {
      const { values, first, step } = walk.more[a];
      for (let i = 0; i < rows; i++)
        for (let k = 0; k < size; k++)
          sums[(from + i) * size + k] = walk.sums[i * size + k] + values[first + i * step + k];
    });
  }
  return found;
}

function isSame(one: Float64Array, other: Float64Array): boolean {
  if (one === other) return true;
  for (let i = 0; i < one.length; i++) if (!Object.is(one[i], other[i])) return false;
  return true;
}
