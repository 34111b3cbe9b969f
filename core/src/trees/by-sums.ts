import type { Binned } from './binned.ts';
import { bestSplit } from './split.ts';
import { leftBins, type Search } from './parting.ts';
import { nodeSums, type Split } from './split-rules.ts';
import { addRows, type Target } from './target.ts';

/**
 * Searches the sums of every bin of every input. They are made for the smaller child of a node alone;
 * the larger one's are what is left of the node's.
 */
export function bySums(
  binned: Binned,
  target: Target,
  given: Int32Array,
  leastLeaf: number,
): Search {
  const rows = given.slice();
  const spare = new Int32Array(rows.length);
  const { cells, columns, offsets } = binned;
  const size = offsets[columns.length] * target.width;
  const pool: Float64Array[] = [];
  const sumsOf = (from: number, to: number) => {
    const sums = pool.pop()?.fill(0) ?? new Float64Array(size);
    addRows(target, binned, rows, [from, to], sums);
    return sums;
  };
  return {
    rows,
    find(span, total, mayPart) {
      span.sums ??= sumsOf(span.from, span.to);
      const task = { target, node: nodeSums(target, span.sums, total), leastLeaf, mayPart };
      let best: Split | undefined;
      for (let j = 0; j < columns.length; j++) {
        const { bins, least } = columns[j];
        const at = target.width * offsets[j];
        best = bestSplit(task, { place: j, bins, at, isNumber: least !== undefined }, best);
      }
      return best;
    },
    part({ from, to }, split) {
      const goes = leftBins(columns[split.column], split);
      const offset = offsets[split.column];
      let middle = from;
      let others = 0;
      for (let i = from; i < to; i++) {
        const row = rows[i];
        if (goes[cells[row * columns.length + split.column] - offset]) rows[middle++] = row;
        else spare[others++] = row;
      }
      for (let i = 0; i < others; i++) rows[middle + i] = spare[i];
      return middle;
    },
    handOn(span, small, large) {
      const sums = span.sums!;
      if (!large) {
        pool.push(sums);
        return;
      }
      small.sums = sumsOf(small.from, small.to);
      for (let k = 0; k < size; k++) sums[k] -= small.sums[k];
      large.sums = sums;
    },
    leave({ sums }) {
      if (sums) pool.push(sums);
    },
  };
}
