import type { Outcome } from '../../outcome/index.ts';
import type { Inputs } from '../../preparation/index.ts';
import { nodeCount, type Sizes, type Tree } from '../../trees/index.ts';
import type { ShownNode, TreeShown } from '../facets.ts';
import type { Known } from './decision-tree.ts';

/** Beyond so many leaves only the chosen tree is shown, not what was pruned from it. */
const mostLeaves = 600;

/** A tree as it can be drawn, with what was pruned from it as far as it can still be read. */
export function treeShown(
  inputs: Inputs,
  outcome: Outcome,
  tree: Tree,
  { sequence, sizes, best, simplest }: Sizes,
  chosen: number,
  { mean = 0, drawn }: Known,
  loss: TreeShown['loss'],
): TreeShown {
  const readable = sizes.findIndex(({ leaves }) => leaves <= mostLeaves);
  const first = Math.min(chosen, readable);
  const isEnd = (node: number) => tree.input[node] < 0 || sequence.from[node] <= first;
  const placeOf = placesWithin(tree, isEnd);
  const width = tree.sums.length / nodeCount(tree);
  const nodes = [...placeOf.keys()].map((node): ShownNode => {
    const sums = Array.from(tree.sums.subarray(node * width, (node + 1) * width));
    const about =
      outcome.kind === 'number'
        ? { patients: sums[0], mean: mean + sums[1] / sums[0] }
        : { patients: sums.reduce((sum, one) => sum + one, 0), counts: sums };
    if (isEnd(node)) return about;
    return {
      ...about,
      ...questionOf(inputs, tree, node),
      left: placeOf.get(tree.left[node])!,
      right: placeOf.get(tree.right[node])!,
      from: sequence.from[node],
    };
  });
  return {
    kind: outcome.kind,
    ...(outcome.kind === 'levels' && { levels: outcome.levels }),
    drawn,
    nodes,
    loss,
    sizes,
    chosen,
    first,
    best,
    simplest,
  };
}

function questionOf({ names, levels }: Inputs, tree: Tree, node: number) {
  const input = tree.input[node];
  const own = levels?.[input];
  const begin = tree.sets[node];
  return {
    input: names[input],
    ...(own
      ? {
          levels: own.filter((_, level) =>
            begin < 0 ? level < tree.threshold[node] : tree.goesLeft[begin + level] === 1,
          ),
        }
      : Number.isFinite(tree.threshold[node]) && { below: tree.threshold[node] }),
    gapsLeft: tree.gapsLeft[node] === 1,
  };
}

/** The nodes above and at the ends, with their places among them. */
function placesWithin(tree: Tree, isEnd: (node: number) => boolean): Map<number, number> {
  const isThere = new Uint8Array(nodeCount(tree));
  isThere[0] = 1;
  const places = new Map<number, number>();
  for (let node = 0; node < isThere.length; node++) {
    if (!isThere[node]) continue;
    places.set(node, places.size);
    if (!isEnd(node)) isThere[tree.left[node]] = isThere[tree.right[node]] = 1;
  }
  return places;
}
