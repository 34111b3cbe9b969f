import type { Binned } from './binned.ts';
import { bestSplit } from './split.ts';
import { leftBins, type Search } from './parting.ts';
import { nodeSums, type Split } from './split-rules.ts';
import type { Target } from './target.ts';

/** Searches the patients of a node in the order of each input, which is kept while they are parted. */
export function byOrder(
  binned: Binned,
  target: Target,
  given: Int32Array,
  leastLeaf: number,
): Search {
  const { columns } = binned;
  const { length } = columns;
  const { width, codes, values, weights } = target;
  const bin = columns.map((_, j) => binsOf(binned, j));
  const orders = columns.map((column, j) => inOrder(bin[j], column.bins, given));
  const spare = new Int32Array(given.length);
  const isLeft = new Uint8Array(binned.rowCount);
  // Of the bins that anybody of a node is in: which they are, and their sums.
  const most = columns.reduce((bins, column) => Math.max(bins, column.bins), 0) + 1;
  const bins = new Int32Array(most);
  const sums = new Float64Array((most + 1) * width);

  /** Sums of the bins in use, close together, and behind them those of who lacks it. */
  function gather(j: number, from: number, to: number): number {
    const order = orders[j];
    const binOf = bin[j];
    const { bins: count, least } = columns[j];
    if (!least) {
      // Levels keep their places: they are few, and parted as sets.
      sums.fill(0, 0, (count + 1) * width);
      for (let i = from; i < to; i++) add(order[i], binOf[order[i]] * width);
      return count;
    }
    let used = 0;
    let last = -1;
    let i = from;
    for (; i < to; i++) {
      const row = order[i];
      const own = binOf[row];
      if (own !== last) {
        if (own === count) break;
        bins[used] = last = own;
        clear(used++);
      }
      add(row, (used - 1) * width);
    }
    clear(used);
    for (; i < to; i++) add(order[i], used * width);
    return used;
  }

  /** A loop: to fill two numbers takes as long as twenty additions. */
  function clear(bin: number): void {
    for (let k = bin * width; k < (bin + 1) * width; k++) sums[k] = 0;
  }

  function add(row: number, at: number): void {
    const weight = weights ? weights[row] : 1;
    if (codes) sums[at + codes[row]] += weight;
    else {
      sums[at] += weight;
      sums[at + 1] += weight * values![row];
    }
  }

  return {
    rows: orders.length > 0 ? orders[0] : given,
    find({ from, to }, total, mayPart) {
      const task = { target, node: nodeSums(target, sums, total), leastLeaf, mayPart };
      let best: Split | undefined;
      for (let j = 0; j < length; j++) {
        const isNumber = columns[j].least !== undefined;
        const used = gather(j, from, to);
        const found = bestSplit(task, { place: j, bins: used, at: 0, isNumber }, best);
        if (found === best || !found || !isNumber) best = found;
        else
          best = {
            ...found,
            upTo: bins[found.upTo!],
            next: found.next === used ? columns[j].bins : bins[found.next!],
          };
      }
      return best;
    },
    part({ from, to }, split) {
      const goes = leftBins(columns[split.column], split);
      let count = 0;
      for (let i = from; i < to; i++) {
        const row = orders[split.column][i];
        isLeft[row] = goes[bin[split.column][row]];
        count += isLeft[row];
      }
      for (const order of orders) {
        let middle = from;
        let others = 0;
        for (let i = from; i < to; i++) {
          const row = order[i];
          if (isLeft[row]) order[middle++] = row;
          else spare[others++] = row;
        }
        for (let i = 0; i < others; i++) order[middle + i] = spare[i];
      }
      return from + count;
    },
    handOn() {
      // The orders are all that there is.
    },
    leave() {
      // Nothing is kept.
    },
  };
}

/** The bin of each patient in one input. */
function binsOf({ rowCount, cells, columns, offsets }: Binned, j: number): Uint16Array {
  const bins = new Uint16Array(rowCount);
  for (let row = 0; row < rowCount; row++) bins[row] = cells[row * columns.length + j] - offsets[j];
  return bins;
}

/** Patients in the order of their bins, those who lack it last; of one bin in the order they came in. */
function inOrder(binOf: Uint16Array, bins: number, rows: Int32Array): Int32Array {
  const places = new Int32Array(bins + 2);
  for (const row of rows) places[binOf[row] + 1]++;
  for (let bin = 1; bin < places.length; bin++) places[bin] += places[bin - 1];
  const order = new Int32Array(rows.length);
  for (const row of rows) order[places[binOf[row]]++] = row;
  return order;
}
