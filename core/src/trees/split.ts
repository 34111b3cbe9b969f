import { scanNumbers } from './scan.ts';
import { isBetter, nothing, type ColumnSums, type Split, type SplitTask } from './split-rules.ts';

/** Up to so many levels of a column with three or more outcomes every way to part them is tried. */
const tryAll = 10;

/** The best split of a node by one column, if it is better than what was found before. */
export const bestSplit = (
  task: SplitTask,
  column: ColumnSums,
  best: Split | undefined,
): Split | undefined =>
  column.isNumber ? scanNumbers(task, column, best) : partLevels(task, column, best);

/**
 * Levels in the order of their standing, which holds the best way to part them where there are two
 * outcomes or a number (Fisher 1958, Journal of the American Statistical Association 53:789-798). Of
 * more outcomes, every way where the levels are few, else the order by each outcome.
 */
function partLevels(
  { target, node, leastLeaf }: SplitTask,
  { place, bins, at }: ColumnSums,
  best: Split | undefined,
): Split | undefined {
  const { width } = target;
  const there: number[] = [];
  for (let bin = 0; bin < bins; bin++)
    if (target.weightOf(node.sums, at + width * bin) > nothing * node.weight) there.push(bin);
  const gaps = node.sums.subarray(at + width * bins, at + width * (bins + 1));
  const hasGaps = target.weightOf(gaps, 0) > nothing * node.weight;
  const left = new Float64Array(width);
  const right = new Float64Array(width);
  const add = (from: Float64Array, begin: number) => {
    for (let k = 0; k < width; k++) left[k] += from[begin + k];
  };
  let found = best;
  const consider = (members: number[], gapsLeft: boolean) => {
    left.fill(0);
    for (const bin of members) add(node.sums, at + width * bin);
    if (gapsLeft) add(gaps, 0);
    const onLeft = target.weightOf(left, 0);
    if (onLeft < leastLeaf || node.weight - onLeft < leastLeaf) return;
    for (let k = 0; k < width; k++) right[k] = node.total[k] - left[k];
    const gain = target.likeness(left, 0) + target.likeness(right, 0) - node.likeness;
    if (!isBetter(gain, found, node)) return;
    const mask = new Uint8Array(bins);
    for (const bin of members) mask[bin] = 1;
    const toLeft = hasGaps ? gapsLeft : 2 * onLeft >= node.weight;
    found = { column: place, gain, gapsLeft: toLeft, left: mask };
  };
  const inOrder = (level: number) => {
    const standing = (bin: number) => target.standing(node.sums, at + width * bin, level);
    const order = there.toSorted((a, b) => standing(a) - standing(b) || a - b);
    for (let i = 1; i < order.length; i++) {
      consider(order.slice(0, i), false);
      if (hasGaps) consider(order.slice(0, i), true);
    }
  };
  if (target.isTwoSided) inOrder(width - 1);
  else if (there.length > tryAll) for (let level = 0; level < width; level++) inOrder(level);
  else
    // Either side may be called the left one: the last level stands on the right.
    for (let set = 1; set < 2 ** (there.length - 1); set++) {
      const members = there.filter((_, i) => (set & (1 << i)) !== 0);
      consider(members, false);
      if (hasGaps) consider(members, true);
    }
  if (hasGaps) consider(there, false);
  return found;
}
