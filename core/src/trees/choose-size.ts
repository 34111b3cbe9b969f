import type { Inputs } from '../inputs/index.ts';
import type { LeafLoss } from './losses.ts';
import { pruningSequence, type PruningSequence } from './prune.ts';
import { childOf, type Tree } from './tree.ts';

/** A tree of the sequence with what it loses of patients that it was not grown on. */
export interface TriedSize {
  leaves: number;
  /** Price of a leaf from which on it is the best tree, and its loss of the patients it was grown on; both a patient. */
  price: number;
  loss: number;
  /** Mean loss of patients of inner folds, and its standard error; absent where none were dealt. */
  estimate?: number;
  standardError?: number;
}

export interface Sizes {
  sequence: PruningSequence;
  sizes: TriedSize[];
  /** Places among the sizes: the least estimate, and the smallest tree within one standard error of it. */
  best: number;
  simplest: number;
}

/**
 * The pruning sequence of a tree with the loss of each size, estimated in inner folds (Breiman,
 * Friedman, Olshen & Stone 1984, section 3.4): in each, a tree of the others is pruned at the price
 * between those of two neighbours of the sequence.
 *
 * @param grow a tree of some of the patients
 * @param folds of each patient; undefined where sizes are not to be compared
 */
export function triedSizes(
  tree: Tree,
  inputs: Inputs,
  loss: LeafLoss,
  grow: (rows: Int32Array) => Tree,
  folds: Uint8Array | undefined,
  weights?: Float64Array,
): Sizes {
  const sequence = pruningSequence(tree, loss.ofNodes(tree, inputs));
  const weightOf = (row: number) => (weights ? weights[row] : 1);
  let weight = 0;
  for (let row = 0; row < inputs.rowCount; row++) weight += weightOf(row);
  const sizes = sequence.trees.map((one): TriedSize => {
    return { leaves: one.leaves, price: one.price / weight, loss: one.loss / weight };
  });
  if (!folds) return { sequence, sizes, best: 0, simplest: 0 };
  const prices = sizes.map(({ price }, k) =>
    k + 1 < sizes.length ? Math.sqrt(price * sizes[k + 1].price) : Infinity,
  );
  // What a patient adds is the same for all sizes from one stop of its way to the next.
  const sums = new Float64Array(sizes.length + 1);
  const squares = new Float64Array(sizes.length + 1);
  const count = folds.reduce((most, fold) => Math.max(most, fold), 0) + 1;
  for (let fold = 0; fold < count; fold++) {
    const others = rowsWhere(folds, (one) => one !== fold);
    const own = rowsWhere(folds, (one) => one === fold);
    if (others.length === 0 || own.length === 0) continue;
    const other = grow(others);
    const { trees, from } = pruningSequence(other, loss.ofNodes(other, inputs, others));
    const otherWeight = others.reduce((sum, row) => sum + weightOf(row), 0);
    const stops = trees.map(({ price }) => placeOf(prices, price / otherWeight));
    for (const row of own)
      for (const [node, first, last] of stopsOf(other, inputs, row, from, stops, sizes.length)) {
        const lost = loss.ofPatient(other, node, row);
        sums[first] += weightOf(row) * lost;
        sums[last] -= weightOf(row) * lost;
        squares[first] += weightOf(row) * lost ** 2;
        squares[last] -= weightOf(row) * lost ** 2;
      }
  }
  let [sum, square] = [0, 0];
  sizes.forEach((size, k) => {
    sum += sums[k];
    square += squares[k];
    size.estimate = sum / weight;
    const variance = Math.max(0, square / weight - size.estimate ** 2);
    size.standardError = Math.sqrt(variance / weight);
  });
  // Of equal estimates the smaller tree.
  const least = Math.min(...sizes.map(({ estimate }) => estimate!));
  const best = sizes.findLastIndex(({ estimate }) => estimate! <= least * (1 + 1e-9));
  const bound = sizes[best].estimate! + sizes[best].standardError!;
  return {
    sequence,
    sizes,
    best,
    simplest: sizes.findLastIndex(({ estimate }) => estimate! <= bound),
  };
}

/** How many of these prices, in ascending order, are less. */
function placeOf(prices: number[], price: number): number {
  let low = 0;
  let high = prices.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (prices[middle] < price) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Where a patient's way ends in each pruned tree: node, first size, and the size behind the last. */
function stopsOf(
  tree: Tree,
  { columns }: Inputs,
  row: number,
  from: Int32Array,
  stops: number[],
  sizes: number,
): [number, number, number][] {
  const found: [number, number, number][] = [];
  let node = 0;
  let last = sizes;
  for (;;) {
    const first = from[node] <= 0 ? 0 : stops[from[node]];
    if (first < last) found.push([node, first, last]);
    last = Math.min(last, first);
    if (tree.input[node] < 0 || last === 0) return found;
    node = childOf(tree, node, columns[tree.input[node]][row]);
  }
}

function rowsWhere(folds: Uint8Array, holds: (fold: number) => boolean): Int32Array {
  const rows = new Int32Array(folds.length);
  let count = 0;
  for (let row = 0; row < folds.length; row++) if (holds(folds[row])) rows[count++] = row;
  return rows.slice(0, count);
}
