import type { Inputs } from '../preparation/index.ts';

/** A grown tree in flat arrays. The root is node 0, and children stand behind their parents. */
export interface Tree {
  /** Input that parts the patients of each node; -1 in a leaf. */
  input: Int32Array;
  left: Int32Array;
  right: Int32Array;
  /** A number: whoever has less goes left. Infinity where only those who lack it go right. */
  threshold: Float64Array;
  /** 1 where those who lack it go left. */
  gapsLeft: Uint8Array;
  /** Levels: where the node's own begin in `goesLeft`; -1 for numbers. */
  sets: Int32Array;
  /** 1 for each level that goes left. */
  goesLeft: Uint8Array;
  /** Of each node in turn: weight of each level; or weight, and weighted sum of the number. */
  sums: Float64Array;
  /** Of each node, what was gained by its split; 0 in a leaf. */
  gain: Float64Array;
}

export const nodeCount = ({ input }: Tree): number => input.length;

/** The child that a patient goes to. */
export function childOf(tree: Tree, node: number, value: number): number {
  const { left, right, threshold, gapsLeft, sets, goesLeft } = tree;
  const toLeft = Number.isNaN(value)
    ? gapsLeft[node] === 1
    : sets[node] < 0
      ? value < threshold[node]
      : goesLeft[sets[node] + value] === 1;
  return toLeft ? left[node] : right[node];
}

/**
 * The leaf of each patient.
 *
 * @param isLeaf 1 for nodes at which the tree ends, besides its own leaves
 */
export function leavesOf(
  tree: Tree,
  { rowCount, columns }: Inputs,
  isLeaf?: Uint8Array,
): Int32Array {
  const leaves = new Int32Array(rowCount);
  for (let row = 0; row < rowCount; row++) {
    let node = 0;
    while (tree.input[node] >= 0 && isLeaf?.[node] !== 1)
      node = childOf(tree, node, columns[tree.input[node]][row]);
    leaves[row] = node;
  }
  return leaves;
}
