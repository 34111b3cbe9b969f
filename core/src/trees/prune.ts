import { nodeCount, type Tree } from './tree.ts';

/** One tree of the pruning sequence. */
export interface Pruned {
  leaves: number;
  /** Price of a leaf, in units of the losses, from which on it is the best one. */
  price: number;
  /** Loss of the patients it was grown on, summed over its leaves. */
  loss: number;
}

export interface PruningSequence {
  /** From the largest tree to the root alone. */
  trees: Pruned[];
  /** Of each node, the first tree of the sequence in which it is a leaf; -1 for leaves from the start. */
  from: Int32Array;
}

/** Prices that differ by rounding alone are one. */
const samePrice = 1e-9;

/**
 * The trees that are best for some price of a leaf, each pruned from the one before at its weakest
 * links (Breiman, Friedman, Olshen & Stone 1984, Classification and Regression Trees, chapter 3).
 *
 * @param loss of each node, were it a leaf
 */
export function pruningSequence(tree: Tree, loss: Float64Array): PruningSequence {
  const count = nodeCount(tree);
  const from = Int32Array.from(tree.input, (input) => (input < 0 ? -1 : count));
  const isLeaf = Uint8Array.from(tree.input, (input) => Number(input < 0));
  const below = new Float64Array(count);
  const leaves = new Int32Array(count);
  const trees: Pruned[] = [];
  let price = 0;
  for (;;) {
    // Children stand behind their parents, so that both are there when the parent is met.
    for (let node = count - 1; node >= 0; node--) {
      const [left, right] = [tree.left[node], tree.right[node]];
      below[node] = isLeaf[node] ? loss[node] : below[left] + below[right];
      leaves[node] = isLeaf[node] ? 1 : leaves[left] + leaves[right];
    }
    const linkOf = (node: number) => (loss[node] - below[node]) / (leaves[node] - 1);
    let weakest = Infinity;
    const met = [0];
    for (let node = met.pop(); node !== undefined; node = met.pop()) {
      if (isLeaf[node]) continue;
      weakest = Math.min(weakest, linkOf(node));
      met.push(tree.left[node], tree.right[node]);
    }
    const limit = samePrice * Math.max(Math.abs(loss[0]), 1e-300);
    if (weakest > price + limit) {
      trees.push({ leaves: leaves[0], price, loss: below[0] });
      if (weakest === Infinity) return { trees, from };
      price = weakest;
    }
    prune(tree, isLeaf, from, trees.length, (node) => linkOf(node) <= price + limit);
  }
}

/** Makes leaves of the topmost nodes for which it holds. */
function prune(
  { left, right }: Tree,
  isLeaf: Uint8Array,
  from: Int32Array,
  place: number,
  holds: (node: number) => boolean,
): void {
  const met = [0];
  for (let node = met.pop(); node !== undefined; node = met.pop()) {
    if (isLeaf[node]) continue;
    if (!holds(node)) {
      met.push(left[node], right[node]);
      continue;
    }
    const gone = [node];
    for (let one = gone.pop(); one !== undefined; one = gone.pop()) {
      if (from[one] > place) from[one] = place;
      if (isLeaf[one]) continue;
      isLeaf[one] = 1;
      gone.push(left[one], right[one]);
    }
  }
}
