import { gapsLeftFlag, levelsFlag, type Ensemble } from './ensemble.ts';
import { nodeCount, type Tree } from './tree.ts';

/** One tree in the form of many; each leaf holds the number of its node in the tree. */
export function asEnsemble(tree: Tree): Ensemble {
  const count = nodeCount(tree);
  // Children next to each other, in the order in which nodes are come by.
  const order = [0];
  const input = new Int32Array(count);
  const child = new Int32Array(count);
  const threshold = new Float64Array(count);
  const flags = new Uint8Array(count);
  const values: number[] = [];
  for (let place = 0; place < order.length; place++) {
    const node = order[place];
    input[place] = tree.input[node];
    if (tree.input[node] < 0) {
      child[place] = values.push(node) - 1;
      continue;
    }
    child[place] = order.push(tree.left[node], tree.right[node]) - 2;
    const isLevels = tree.sets[node] >= 0;
    threshold[place] = isLevels ? tree.sets[node] : tree.threshold[node];
    flags[place] = (tree.gapsLeft[node] ? gapsLeftFlag : 0) | (isLevels ? levelsFlag : 0);
  }
  return {
    starts: Int32Array.of(0, order.length),
    ...{ input, child, threshold, flags },
    goesLeft: tree.goesLeft,
    values: Float64Array.from(values),
  };
}
