import { leavesOf, nodeCount, type Tree } from './tree.ts';
import type { Inputs } from '../inputs/index.ts';

/** What a tree is pruned by: what its leaves say, and how wrong that is. */
export interface LeafLoss {
  /** Of each node, were it a leaf, over the patients it was grown on. @param rows these; all where absent */
  ofNodes(tree: Tree, inputs: Inputs, rows?: Int32Array): Float64Array;
  /** Of one patient in a node. */
  ofPatient(tree: Tree, node: number, row: number): number;
}

/**
 * The squared distance between the shares of a leaf and what happened (Brier 1950, Monthly Weather
 * Review 78:1-3); of two levels that of the second alone.
 *
 * @param drawn patients by which the shares of a leaf are drawn to those of all
 */
export function brierLoss(codes: ArrayLike<number>, levels: number, drawn: number): LeafLoss {
  const half = levels === 2 ? 2 : 1;
  return {
    ofNodes: ({ sums, input }) =>
      Float64Array.from(input, (_, node) => {
        let [weight, squares] = [0, 0];
        for (let k = 0; k < levels; k++) {
          const sum = sums[node * levels + k];
          weight += sum;
          squares += sum * sum;
        }
        return weight > 0 ? (weight - squares / weight) / half : 0;
      }),
    ofPatient(tree, node, row) {
      const shares = sharesOf(tree, node, levels, drawn);
      let loss = 0;
      for (let k = 0; k < levels; k++) loss += (Number(codes[row] === k) - shares[k]) ** 2;
      return loss / half;
    },
  };
}

/** What wrong labels cost, each leaf with its cheapest one. @param table true level in rows */
export function costLoss(codes: ArrayLike<number>, table: number[][]): LeafLoss {
  const levels = table.length;
  const costOf = ({ sums }: Tree, node: number, label: number) => {
    let cost = 0;
    for (let k = 0; k < levels; k++) cost += sums[node * levels + k] * table[k][label];
    return cost;
  };
  const labelOf = (tree: Tree, node: number) => {
    let best = 0;
    for (let label = 1; label < levels; label++)
      if (costOf(tree, node, label) < costOf(tree, node, best)) best = label;
    return best;
  };
  return {
    ofNodes: (tree) =>
      Float64Array.from(tree.input, (_, node) => costOf(tree, node, labelOf(tree, node))),
    ofPatient: (tree, node, row) => table[codes[row]][labelOf(tree, node)],
  };
}

/** The squared distance of a number from the mean of its leaf. @param values about their mean */
export function squaredLoss(values: Float64Array, weights?: Float64Array): LeafLoss {
  return {
    ofNodes(tree, inputs, rows) {
      const leaves = leavesOf(tree, inputs, rows);
      const squares = new Float64Array(nodeCount(tree));
      for (let i = 0; i < leaves.length; i++) {
        const row = rows ? rows[i] : i;
        squares[leaves[i]] += (weights ? weights[row] : 1) * values[row] ** 2;
      }
      for (let node = squares.length - 1; node >= 0; node--)
        if (tree.input[node] >= 0)
          squares[node] = squares[tree.left[node]] + squares[tree.right[node]];
      // Rounding must not leave less than nothing.
      return squares.map((sum, node) =>
        Math.max(0, sum - tree.sums[2 * node + 1] ** 2 / Math.max(tree.sums[2 * node], 1e-300)),
      );
    },
    ofPatient: (tree, node, row) =>
      (values[row] - tree.sums[2 * node + 1] / tree.sums[2 * node]) ** 2,
  };
}

/** Shares of each level in a node, drawn to those of the root as if so many more patients had them. */
export function sharesOf(
  { sums }: Tree,
  node: number,
  levels: number,
  drawn: number,
): Float64Array {
  const weightOf = (one: number) => {
    let weight = 0;
    for (let k = 0; k < levels; k++) weight += sums[one * levels + k];
    return weight;
  };
  const [own, all] = [weightOf(node), weightOf(0)];
  return Float64Array.from({ length: levels }, (_, k) =>
    own + drawn > 0
      ? (sums[node * levels + k] + (drawn * sums[k]) / all) / (own + drawn)
      : sums[k] / all,
  );
}
