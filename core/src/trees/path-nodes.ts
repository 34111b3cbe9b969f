import type { PathNodes } from '../numeric/index.ts';
import type { Weighed } from './path-contributions.ts';
import { edgeRatio, edgeShare } from './path-state.ts';

/** One tree as the walk of many patients takes it: all that does not depend on the patient is worked out before. */
export function pathNodes(
  { ensemble, leaves, goes, quadratures }: Weighed,
  { root, questions, depth, places }: Weighed['trees'][number],
): PathNodes {
  const { input, child } = ensemble;
  const { at, weights } = quadratures.get(places)!;
  const size = 36 * places;
  const made: PathNodes = {
    threshold: new Float64Array(questions),
    input: new Int32Array(questions),
    flags: new Uint8Array(questions),
    left: new Int32Array(questions).fill(-1),
    right: new Int32Array(questions).fill(-1),
    tables: new Float64Array(questions * size),
    ...{ depth, places },
  };
  const parts = new Float64Array(input.reduce((most, j) => Math.max(most, j), 0) + 1).fill(1);
  let count = 0;
  const put = (node: number): number => {
    const own = count++;
    const j = input[node];
    made.threshold[own] = ensemble.threshold[node];
    made.input[own] = j;
    made.flags[own] = ensemble.flags[node];
    const before = parts[j];
    for (let side = 0; side < 2; side++) {
      const below = child[node] + side;
      const after = before * goes[below];
      const isLeaf = input[below] < 0;
      for (let block = 0; block < 6; block++) {
        const [state, left] = [block >> 1, block & 1];
        const isHere = side === 0 ? left === 1 : left === 0;
        const from = own * size + block * 6 * places;
        for (let k = 0; k < places; k++) {
          const ratio = edgeRatio(at[k], state, isHere, before, after);
          const share = weights[k] * edgeShare(at[k], state, isHere, before, after);
          if (isLeaf) {
            made.tables[from + k] += leaves[below] * ratio;
            made.tables[from + places + k] += leaves[below] * ratio * share;
          } else {
            made.tables[from + (2 + 2 * side) * places + k] = ratio;
            made.tables[from + (3 + 2 * side) * places + k] = share;
          }
        }
      }
      if (isLeaf) continue;
      parts[j] = after;
      const place = put(below);
      if (side === 0) made.left[own] = place;
      else made.right[own] = place;
    }
    parts[j] = before;
    return own;
  };
  if (questions > 0) put(root);
  return made;
}
