import type { BinnedColumn } from '../binned.ts';

/** A node as its splits are looked for. */
export interface GradientNode {
  /** Sums of second and first derivatives. */
  weight: number;
  slope: number;
  /** Between these its leaf's value must be, before the learning rate. */
  least: number;
  greatest: number;
}

export interface GradientSplit {
  column: number;
  gain: number;
  gapsLeft: boolean;
  /** A number: bins up to this one go left; the next that holds anybody, or `bins` where only who lacks it goes right. */
  upTo: number;
  next: number;
  /** Levels: 1 for each that goes left. */
  left?: Uint8Array;
  leftWeight: number;
  leftSlope: number;
}

export interface GradientRules {
  /** Added to the second derivatives of a leaf, by which its value is drawn to 0. */
  l2: number;
  /** Second derivatives that each side must have. */
  leastWeight: number;
}

/** Gains that differ by rounding alone are the same: the first column and the lowest threshold stand. */
const sameGain = 1e-10;

/** What a leaf of these sums would say, within the bounds of its node. */
export function leafValue(
  weight: number,
  slope: number,
  { least, greatest }: Pick<GradientNode, 'least' | 'greatest'>,
  l2: number,
): number {
  const free = weight + l2 > 0 ? -slope / (weight + l2) : 0;
  return Math.min(greatest, Math.max(least, free));
}

/** What the loss falls by, to second order and doubled, if a leaf of these sums says its best. */
function fallOf(weight: number, slope: number, node: GradientNode, l2: number): number {
  const value = leafValue(weight, slope, node, l2);
  return -(2 * slope * value + (weight + l2) * value * value);
}

/**
 * The best split of a node by one column, if it is better than what was found before.
 *
 * @param sums of the node's bins, in pairs, from `at` on; those who lack the column stand last
 * @param direction 1 where more of it may only raise what is said, -1 where it may only lower it
 */
export function scanColumn(
  { bins, least }: BinnedColumn,
  column: number,
  sums: Float64Array,
  at: number,
  node: GradientNode,
  rules: GradientRules,
  direction: number,
  best: GradientSplit | undefined,
): GradientSplit | undefined {
  if (!least) return scanLevels(bins, column, sums, at, node, rules, best);
  const { l2, leastWeight } = rules;
  const isFree = node.least === -Infinity && node.greatest === Infinity && direction === 0;
  const { weight, slope } = node;
  const [gapWeight, gapSlope] = [sums[at + 2 * bins], sums[at + 2 * bins + 1]];
  const hasGaps = gapWeight > 0;
  const own = fallOf(weight, slope, node, l2);
  let found = best;
  // What the two sides must reach together to be better.
  let least2 = needed(own, found);
  let [leftWeight, leftSlope] = [0, 0];
  let before = -1;
  for (let bin = 0; bin <= bins; bin++) {
    const [binWeight, binSlope] = [sums[at + 2 * bin], sums[at + 2 * bin + 1]];
    if (binWeight === 0 && bin < bins) continue;
    if (before >= 0 && (bin < bins || hasGaps))
      for (let side = 0; side < (hasGaps && bin < bins ? 2 : 1); side++) {
        const a = side === 1 ? leftWeight + gapWeight : leftWeight;
        const b = weight - a;
        if (a < leastWeight || b < leastWeight) continue;
        const aSlope = side === 1 ? leftSlope + gapSlope : leftSlope;
        const bSlope = slope - aSlope;
        let fall: number;
        if (isFree) fall = (aSlope * aSlope) / (a + l2) + (bSlope * bSlope) / (b + l2);
        else {
          const difference = leafValue(b, bSlope, node, l2) - leafValue(a, aSlope, node, l2);
          if (difference * direction < 0 && bin < bins) continue;
          fall = fallOf(a, aSlope, node, l2) + fallOf(b, bSlope, node, l2);
        }
        if (!(fall > least2) || !isBetter(fall, own, found)) continue;
        found = {
          column,
          gain: fall - own,
          gapsLeft: hasGaps ? side === 1 : 2 * a >= weight,
          upTo: before,
          next: bin,
          leftWeight: a,
          leftSlope: aSlope,
        };
        least2 = needed(own, found);
      }
    leftWeight += binWeight;
    leftSlope += binSlope;
    before = bin;
  }
  return found;
}

/** Levels in the order of what a leaf of each would say (Fisher 1958, as for a number's mean). */
function scanLevels(
  bins: number,
  column: number,
  sums: Float64Array,
  at: number,
  node: GradientNode,
  { l2, leastWeight }: GradientRules,
  best: GradientSplit | undefined,
): GradientSplit | undefined {
  const there: number[] = [];
  for (let bin = 0; bin < bins; bin++) if (sums[at + 2 * bin] > 0) there.push(bin);
  const standing = (bin: number) => sums[at + 2 * bin + 1] / sums[at + 2 * bin];
  there.sort((one, other) => standing(one) - standing(other) || one - other);
  const [gapWeight, gapSlope] = [sums[at + 2 * bins], sums[at + 2 * bins + 1]];
  const hasGaps = gapWeight > 0;
  const own = fallOf(node.weight, node.slope, node, l2);
  let found = best;
  let [leftWeight, leftSlope] = [0, 0];
  for (let i = 0; i < there.length; i++) {
    leftWeight += sums[at + 2 * there[i]];
    leftSlope += sums[at + 2 * there[i] + 1];
    const isLast = i === there.length - 1;
    // All levels against those who lack it are a split too.
    for (let side = 0; side < (hasGaps && !isLast ? 2 : 1); side++) {
      if (isLast && !hasGaps) continue;
      const a = side === 1 ? leftWeight + gapWeight : leftWeight;
      const b = node.weight - a;
      if (a < leastWeight || b < leastWeight) continue;
      const aSlope = side === 1 ? leftSlope + gapSlope : leftSlope;
      const fall = fallOf(a, aSlope, node, l2) + fallOf(b, node.slope - aSlope, node, l2);
      if (!isBetter(fall, own, found)) continue;
      const left = new Uint8Array(bins);
      for (const bin of there.slice(0, i + 1)) left[bin] = 1;
      found = {
        column,
        gain: fall - own,
        gapsLeft: hasGaps ? side === 1 : 2 * a >= node.weight,
        upTo: -1,
        next: -1,
        left,
        leftWeight: a,
        leftSlope: aSlope,
      };
    }
  }
  return found;
}

const needed = (own: number, best: GradientSplit | undefined): number =>
  own + (best ? best.gain : 0);

function isBetter(fall: number, own: number, best: GradientSplit | undefined): boolean {
  const least = best ? best.gain : 0;
  return fall - own > least + sameGain * Math.max(least, Math.abs(fall) * Number(!best));
}
