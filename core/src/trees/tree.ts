import type { Inputs } from '../inputs/index.ts';

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

/** The leaf of each of these patients. @param rows all where absent */
export function leavesOf(tree: Tree, { rowCount, columns }: Inputs, rows?: Int32Array): Int32Array {
  const leaves = new Int32Array(rows ? rows.length : rowCount);
  for (let i = 0; i < leaves.length; i++) {
    const row = rows ? rows[i] : i;
    let node = 0;
    while (tree.input[node] >= 0) node = childOf(tree, node, columns[tree.input[node]][row]);
    leaves[i] = node;
  }
  return leaves;
}

/** A tree of which some branches were cut off. */
export interface Ended {
  tree: Tree;
  /** Where each node stood before. */
  kept: number[];
}

/** The tree that ends at the nodes for which it holds, with nothing of what is beneath them. */
export function endedAt(tree: Tree, isEnd: (node: number) => boolean): Ended {
  const kept: number[] = [];
  const placeOf = new Int32Array(nodeCount(tree)).fill(-1);
  placeOf[0] = 0;
  for (let node = 0; node < placeOf.length; node++) {
    if (placeOf[node] < 0) continue;
    placeOf[node] = kept.length;
    kept.push(node);
    if (tree.input[node] < 0 || isEnd(node)) continue;
    placeOf[tree.left[node]] = placeOf[tree.right[node]] = 0;
  }
  const goesOn = (node: number) => tree.input[node] >= 0 && placeOf[tree.left[node]] >= 0;
  const width = tree.sums.length / placeOf.length;
  const ended: Tree = {
    input: Int32Array.from(kept, (node) => (goesOn(node) ? tree.input[node] : -1)),
    left: Int32Array.from(kept, (node) => (goesOn(node) ? placeOf[tree.left[node]] : -1)),
    right: Int32Array.from(kept, (node) => (goesOn(node) ? placeOf[tree.right[node]] : -1)),
    threshold: Float64Array.from(kept, (node) => (goesOn(node) ? tree.threshold[node] : 0)),
    gapsLeft: Uint8Array.from(kept, (node) => (goesOn(node) ? tree.gapsLeft[node] : 0)),
    sets: Int32Array.from(kept, (node) => (goesOn(node) ? tree.sets[node] : -1)),
    goesLeft: tree.goesLeft,
    sums: Float64Array.from(
      kept.flatMap((node) => [...tree.sums.subarray(node * width, (node + 1) * width)]),
    ),
    gain: Float64Array.from(kept, (node) => (goesOn(node) ? tree.gain[node] : 0)),
  };
  return { tree: ended, kept };
}
