import { alteredRows, compiledAlteredWalk } from '../numeric/index.ts';
import type { Inputs } from '../inputs/index.ts';
import { addLeaves, treeCount, type Ensemble } from './ensemble.ts';

/**
 * Sums of leaves of patients as they are, and as if some of their inputs were others: only where a changed input
 * leads a patient another way is the rest of that way gone. Without such a kernel each alternative is gone through
 * by itself.
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
  const changes = alternatives.flatMap((one, alternative) =>
    one.columns.flatMap((column, input) =>
      isSame(column, inputs.columns[input]) ? [] : [{ alternative, input }],
    ),
  );
  const walk = compiledAlteredWalk(
    ...([ensemble, inputs.columns.length, alternatives.length, changes, width, size] as const),
  );
  if (!walk)
    return alternatives.map((one) => {
      const sums = start(one.rowCount);
      addLeaves(ensemble, one, sums, { groups, width });
      return sums;
    });
  const plain = start(inputs.rowCount);
  const found = alternatives.map(() => new Float64Array(plain.length));
  for (let from = 0; from < inputs.rowCount; from += alteredRows) {
    const rows = Math.min(alteredRows, inputs.rowCount - from);
    const part = (column: Float64Array) => column.subarray(from, from + rows);
    inputs.columns.forEach((column, j) => walk.columns[j].set(part(column)));
    changes.forEach(({ alternative, input }, place) =>
      walk.changed[place].set(part(alternatives[alternative].columns[input])),
    );
    walk.sums.set(plain.subarray(from * size, (from + rows) * size));
    for (const more of walk.more) more.fill(0);
    for (let tree = 0; tree < treeCount(ensemble); tree++)
      walk.add(ensemble.starts[tree], rows, (tree % groups) * width);
    found.forEach((sums, a) => {
      for (let i = 0; i < rows * size; i++) sums[from * size + i] = walk.sums[i] + walk.more[a][i];
    });
  }
  return found;
}

function isSame(one: Float64Array, other: Float64Array): boolean {
  for (let i = 0; i < one.length; i++) if (!Object.is(one[i], other[i])) return false;
  return true;
}
