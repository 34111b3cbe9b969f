import type { BinnedColumn } from '../binned.ts';
import { isBetter, nothing, type ColumnSums, type Split, type SplitTask } from '../split-rules.ts';
import type { Draws } from './draws.ts';

/**
 * A column parted at random (Geurts, Ernst & Wehenkel 2006, Machine Learning 63:3-42), if that is better
 * than what was found before: a number anywhere between the least and the greatest of the node's patients,
 * levels into any two sets.
 *
 * @param places the bins that the sums are of, where they are not all
 */
export function randomSplit(
  { target, node, leastLeaf, mayPart }: SplitTask,
  { place, bins, at, isNumber }: ColumnSums,
  best: Split | undefined,
  draws: Draws,
  { least, greatest }: BinnedColumn,
  places?: Int32Array,
): Split | undefined {
  const { width } = target;
  const there: number[] = [];
  for (let bin = 0; bin < bins; bin++)
    if (target.weightOf(node.sums, at + width * bin) > nothing * node.weight) there.push(bin);
  const placeOf = (bin: number) => places?.[bin] ?? bin;
  const last = there.length - 1;
  let onLeft: number[];
  if (last < 1) onLeft = there;
  else if (isNumber) {
    const from = greatest![placeOf(there[0])];
    const to = least![placeOf(there[last])];
    const threshold = from + draws.share() * (to - from);
    // Bins are not parted: one goes with its least patient.
    onLeft = there.filter((bin, i) => i === 0 || (i < last && least![placeOf(bin)] < threshold));
  } else {
    onLeft = there.filter(() => draws.share() < 0.5);
    if (onLeft.length === 0) onLeft = [there[draws.below(there.length)]];
    if (onLeft.length === there.length) onLeft.splice(draws.below(onLeft.length), 1);
  }
  const gaps = at + width * bins;
  const hasGaps = target.weightOf(node.sums, gaps) > nothing * node.weight;
  const left = new Float64Array(width);
  for (const bin of onLeft)
    for (let k = 0; k < width; k++) left[k] += node.sums[at + width * bin + k];
  const right = new Float64Array(width);
  let found = best;
  const isAll = onLeft.length === there.length;
  for (const gapsLeft of hasGaps && !isAll ? [false, true] : [false]) {
    if (gapsLeft) for (let k = 0; k < width; k++) left[k] += node.sums[gaps + k];
    const weight = target.weightOf(left, 0);
    if (weight < leastLeaf || node.weight - weight < leastLeaf) continue;
    for (let k = 0; k < width; k++) right[k] = node.total[k] - left[k];
    const gain = target.likeness(left, 0) + target.likeness(right, 0) - node.likeness;
    if (!isBetter(gain, found, node)) continue;
    if (mayPart?.(place, left, right, isNumber && !isAll) === false) continue;
    const toLeft = hasGaps ? gapsLeft : 2 * weight >= node.weight;
    found = isNumber
      ? { column: place, gain, gapsLeft: toLeft, ...boundary(there, onLeft.length, bins) }
      : { column: place, gain, gapsLeft: toLeft, left: maskOf(onLeft, bins) };
  }
  return found;
}

const boundary = (there: number[], count: number, bins: number) => ({
  upTo: there[count - 1],
  next: count < there.length ? there[count] : bins,
});

function maskOf(members: number[], bins: number): Uint8Array {
  const mask = new Uint8Array(bins);
  for (const bin of members) mask[bin] = 1;
  return mask;
}
