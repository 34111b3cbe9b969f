import { isBetter, nothing, type ColumnSums, type Split, type SplitTask } from './split-rules.ts';

// The innermost loops of growing: sums stand in locals where there are two of them, because calls and
// arrays there cost three times as much.

/** The best place to part a number, those who lack it on either side; see `bestSplit`. */
export const scanNumbers = (
  task: SplitTask,
  column: ColumnSums,
  best: Split | undefined,
): Split | undefined =>
  task.target.width === 2 && task.target.criterion !== 'entropy' && !task.mayPart
    ? scanTwo(task, column, best)
    : scanMany(task, column, best);

/** Two levels by Gini, or a number by squares. */
function scanTwo(
  { target, node, leastLeaf }: SplitTask,
  { place, bins, at }: ColumnSums,
  best: Split | undefined,
): Split | undefined {
  const { sums, total, weight, likeness } = node;
  const isNumber = target.criterion === 'squares';
  const [f0, f1] = isNumber ? [1, 1] : [target.factor[0], target.factor[1]];
  const empty = nothing * weight;
  const [gap0, gap1] = [sums[at + 2 * bins], sums[at + 2 * bins + 1]];
  const gapWeight = isNumber ? gap0 : gap0 + gap1;
  const hasGaps = gapWeight > empty;
  let [left0, left1, leftWeight] = [0, 0, 0];
  let found = best;
  let least = best ? best.gain : 0;
  let before = -1;
  for (let bin = 0; bin <= bins; bin++) {
    const [own0, own1] = [sums[at + 2 * bin], sums[at + 2 * bin + 1]];
    const own = isNumber ? own0 : own0 + own1;
    if (own <= empty && bin < bins) continue;
    // Behind the bins before, once it is known which comes next; behind the last only those who lack it.
    if (before >= 0 && (bin < bins || hasGaps))
      for (let side = 0; side < (hasGaps && bin < bins ? 2 : 1); side++) {
        const onLeft = side === 1 ? leftWeight + gapWeight : leftWeight;
        if (onLeft < leastLeaf || weight - onLeft < leastLeaf) continue;
        const [a0, a1] = side === 1 ? [left0 + gap0, left1 + gap1] : [left0, left1];
        const [b0, b1] = [total[0] - a0, total[1] - a1];
        let gain: number;
        if (isNumber) gain = (a1 * a1) / a0 + (b1 * b1) / b0 - likeness;
        else {
          const [x0, x1, y0, y1] = [f0 * a0, f1 * a1, f0 * b0, f1 * b1];
          gain = (x0 * x0 + x1 * x1) / (x0 + x1) + (y0 * y0 + y1 * y1) / (y0 + y1) - likeness;
        }
        if (gain <= least || !isBetter(gain, found, node)) continue;
        least = gain;
        const gapsLeft = hasGaps ? side === 1 : 2 * onLeft >= weight;
        found = { column: place, gain, gapsLeft, upTo: before, next: bin };
      }
    left0 += own0;
    left1 += own1;
    leftWeight += own;
    before = bin;
  }
  return found;
}

/** Any number of levels, by any criterion, under any rule. */
function scanMany(
  { target, node, leastLeaf, mayPart }: SplitTask,
  { place, bins, at }: ColumnSums,
  best: Split | undefined,
): Split | undefined {
  const { width } = target;
  const { sums, total, weight, likeness } = node;
  const empty = nothing * weight;
  const gaps = at + width * bins;
  const gapWeight = target.weightOf(sums, gaps);
  const hasGaps = gapWeight > empty;
  const left = new Float64Array(width);
  const [a, b] = [new Float64Array(width), new Float64Array(width)];
  let found = best;
  let leftWeight = 0;
  let before = -1;
  for (let bin = 0; bin <= bins; bin++) {
    const own = target.weightOf(sums, at + width * bin);
    if (own <= empty && bin < bins) continue;
    if (before >= 0 && (bin < bins || hasGaps))
      for (let side = 0; side < (hasGaps && bin < bins ? 2 : 1); side++) {
        const onLeft = side === 1 ? leftWeight + gapWeight : leftWeight;
        if (onLeft < leastLeaf || weight - onLeft < leastLeaf) continue;
        for (let k = 0; k < width; k++) {
          a[k] = side === 1 ? left[k] + sums[gaps + k] : left[k];
          b[k] = total[k] - a[k];
        }
        const gain = target.likeness(a, 0) + target.likeness(b, 0) - likeness;
        if (!isBetter(gain, found, node) || mayPart?.(place, a, b, bin < bins) === false) continue;
        const gapsLeft = hasGaps ? side === 1 : 2 * onLeft >= weight;
        found = { column: place, gain, gapsLeft, upTo: before, next: bin };
      }
    for (let k = 0; k < width; k++) left[k] += sums[at + width * bin + k];
    leftWeight += own;
    before = bin;
  }
  return found;
}
