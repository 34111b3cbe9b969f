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
  { target, node, leastLeaf, mayPart }: SplitTask,
  { place, bins, at }: ColumnSums,
  best: Split | undefined,
): Split | undefined {
  const { width } = target;
  const there: number[] = [];
  for (let bin = 0; bin < bins; bin++)
    if (target.weightOf(node.sums, at + width * bin) > nothing * node.weight) there.push(bin);
  const gaps = node.sums.subarray(at + width * bins, at + width * (bins + 1));
  const hasGaps = target.weightOf(gaps, 0) > nothing * node.weight;
  const right = new Float64Array(width);
  const withGaps = new Float64Array(width);
  let found = best;
  const consider = (left: Float64Array, gapsLeft: boolean, members: () => number[]) => {
    const onLeft = target.weightOf(left, 0);
    if (onLeft < leastLeaf || node.weight - onLeft < leastLeaf) return;
    for (let k = 0; k < width; k++) right[k] = node.total[k] - left[k];
    const gain = target.likeness(left, 0) + target.likeness(right, 0) - node.likeness;
    if (!isBetter(gain, found, node) || mayPart?.(place, left, right, false) === false) return;
    const mask = new Uint8Array(bins);
    for (const bin of members()) mask[bin] = 1;
    const toLeft = hasGaps ? gapsLeft : 2 * onLeft >= node.weight;
    found = { column: place, gain, gapsLeft: toLeft, left: mask };
  };
  /** With those who lack it on either side. */
  const eitherWay = (left: Float64Array, members: () => number[]) => {
    consider(left, false, members);
    if (!hasGaps) return;
    for (let k = 0; k < width; k++) withGaps[k] = left[k] + gaps[k];
    consider(withGaps, true, members);
  };
  const add = (bin: number, to: Float64Array) => {
    for (let k = 0; k < width; k++) to[k] += node.sums[at + width * bin + k];
  };
  const inOrder = (level: number) => {
    const standing = (bin: number) => target.standing(node.sums, at + width * bin, level);
    const order = there.toSorted((a, b) => standing(a) - standing(b) || a - b);
    const left = new Float64Array(width);
    for (let i = 1; i < order.length; i++) {
      add(order[i - 1], left);
      eitherWay(left, () => order.slice(0, i));
    }
  };
  const sumOf = (members: number[]) => {
    const sums = new Float64Array(width);
    for (const bin of members) add(bin, sums);
    return sums;
  };
  if (target.isTwoSided) inOrder(width - 1);
  else if (there.length > tryAll) for (let level = 0; level < width; level++) inOrder(level);
  else
    // Either side may be called the left one: the last level stands on the right.
    for (let set = 1; set < 2 ** (there.length - 1); set++) {
      const members = there.filter((_, i) => (set & (1 << i)) !== 0);
      eitherWay(sumOf(members), () => members);
    }
  if (hasGaps) consider(sumOf(there), false, () => there);
  return found;
}
