import { treeWalk, walkedRows } from '../../numeric/index.ts';
import type { Inputs } from '../../inputs/index.ts';
import { treeCount, type Ensemble } from '../ensemble.ts';

export interface OutOfBag {
  /** Loss of each patient by the trees that did not learn from them; NaN where there are none. */
  losses: Float64Array;
  /** Mean loss after each of the wanted numbers of trees, over those that any tree can judge by then. */
  along: number[];
}

/**
 * Patients as they are judged by the trees that did not learn from them.
 *
 * @param isOut trees × patients, 1 where a tree did not learn from a patient
 * @param width numbers that a leaf says
 * @param at numbers of trees after which losses are taken, ascending
 * @param lossOf of a patient to whom the trees say this on average
 */
export function outOfBag(
  ensemble: Ensemble,
  { rowCount, columns }: Inputs,
  isOut: Uint8Array,
  width: number,
  at: number[],
  lossOf: (row: number, said: Float64Array) => number,
): OutOfBag {
  const { starts, values } = ensemble;
  const trees = treeCount(ensemble);
  const { columns: block, leaves, walk } = treeWalk(ensemble, columns.length);
  const losses = new Float64Array(rowCount).fill(NaN);
  const sums = at.map(() => 0);
  const counts = at.map(() => 0);
  const said = new Float64Array(width);
  const totals = new Float64Array(walkedRows * width);
  const judges = new Int32Array(walkedRows);
  for (let from = 0; from < rowCount; from += walkedRows) {
    const rows = Math.min(walkedRows, rowCount - from);
    columns.forEach((column, j) => block[j].set(column.subarray(from, from + rows)));
    totals.fill(0);
    judges.fill(0);
    let next = 0;
    for (let tree = 0; tree < trees; tree++) {
      walk(starts[tree], rows);
      for (let i = 0; i < rows; i++) {
        if (isOut[tree * rowCount + from + i] === 0) continue;
        judges[i]++;
        for (let k = 0; k < width; k++) totals[i * width + k] += values[leaves[i] + k];
      }
      if (tree + 1 !== at[next] && tree + 1 < trees) continue;
      for (let i = 0; i < rows; i++) {
        if (judges[i] === 0) continue;
        for (let k = 0; k < width; k++) said[k] = totals[i * width + k] / judges[i];
        const loss = lossOf(from + i, said);
        if (tree + 1 === trees) losses[from + i] = loss;
        if (tree + 1 === at[next]) {
          sums[next] += loss;
          counts[next]++;
        }
      }
      if (tree + 1 === at[next]) next++;
    }
  }
  return { losses, along: sums.map((sum, i) => (counts[i] > 0 ? sum / counts[i] : NaN)) };
}
