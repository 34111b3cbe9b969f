import type { TreeRows } from '../../numeric/index.ts';
import type { Binned } from '../binned.ts';
import { cutBetween } from '../cut.ts';
import type { EnsembleBuilder } from '../ensemble.ts';
import {
  leafValue,
  scanColumn,
  type GradientNode,
  type GradientRules,
  type GradientSplit,
} from './scan.ts';

export interface GradientTreeRules extends GradientRules {
  /** Most splits from the root to a leaf. */
  depth: number;
  learningRate: number;
  /** For each input 1 or -1 where what is said may only rise or fall with it, else 0. */
  directions?: Int8Array;
}

/** What a tree is grown from, made once for all rounds. */
export interface GradientTask {
  binned: Binned;
  rules: GradientTreeRules;
  /** With the pairs of the round, and in `rows` those it is learned from, then all others. */
  at: TreeRows;
  builder: EnsembleBuilder;
  /** To which what is gained by each input is added. */
  gains: Float64Array;
}

/** Slots of sums that a tree of this depth needs at once. */
export const slotsFor = (depth: number): number => depth + 2;

interface Waiting extends GradientNode {
  node: number;
  depth: number;
  /** Of those it is learned from. */
  from: number;
  to: number;
  /** Of the others, who go the same ways. */
  othersFrom: number;
  othersTo: number;
  /** Where its sums stand; -1 where none are needed. */
  slot: number;
}

/**
 * Grows a tree on second-order gains (Friedman 2001, Annals of Statistics 29:1189-1232; Chen & Guestrin
 * 2016, KDD:785-794, equations 5 to 7).
 *
 * @param learning how many of the rows it is learned from
 * @param columns inputs that it may ask about
 * @param onLeaf what a leaf adds, and where some of its patients stand in `rows`; called until all are said
 */
export function growGradientTree(
  { binned, rules, at, builder, gains }: GradientTask,
  learning: number,
  columns: ArrayLike<number>,
  onLeaf: (value: number, from: number, to: number) => void,
): void {
  const { depth: deepest, l2, learningRate, directions, leastWeight } = rules;
  const { rows, sums } = at;
  const free = Array.from({ length: sums.length }, (_, slot) => slot);
  const mayPart = (node: Waiting) =>
    node.depth < deepest && node.to - node.from > 1 && node.weight >= 2 * leastWeight;
  const first = free.pop()!;
  at.sum(0, learning, first);
  const [weight, slope] = totalOf(sums[first], binned);
  const root: Waiting = {
    node: builder.begin(),
    depth: 0,
    weight,
    slope,
    least: -Infinity,
    greatest: Infinity,
    from: 0,
    to: learning,
    othersFrom: learning,
    othersTo: rows.length,
    slot: first,
  };
  const waiting = [root];
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    const split = next.slot >= 0 && mayPart(next) ? bestOf(next) : undefined;
    if (!split) {
      if (next.slot >= 0) free.push(next.slot);
      const value = learningRate * leafValue(next.weight, next.slope, next, l2);
      builder.end(next.node, value);
      onLeaf(value, next.from, next.to);
      onLeaf(value, next.othersFrom, next.othersTo);
      continue;
    }
    gains[split.column] += split.gain;
    const [left, right] = childrenOf(next, split);
    const [small, large] =
      left.to - left.from <= right.to - right.from ? [left, right] : [right, left];
    if (mayPart(small) || mayPart(large)) {
      // The smaller child is summed, the larger one is what is left of the node.
      small.slot = free.pop()!;
      at.sum(small.from, small.to, small.slot);
      if (mayPart(large)) {
        large.slot = next.slot;
        at.takeAway(large.slot, small.slot);
      } else free.push(next.slot);
      if (!mayPart(small)) {
        free.push(small.slot);
        small.slot = -1;
      }
    } else free.push(next.slot);
    waiting.push(large, small);
  }

  function bestOf(node: Waiting): GradientSplit | undefined {
    let best: GradientSplit | undefined;
    for (let i = 0; i < columns.length; i++) {
      const j = columns[i];
      best = scanColumn(
        binned.columns[j],
        j,
        sums[node.slot],
        2 * binned.offsets[j],
        node,
        rules,
        directions?.[j] ?? 0,
        best,
      );
    }
    return best;
  }

  function childrenOf(node: Waiting, split: GradientSplit): [Waiting, Waiting] {
    const { column, gapsLeft } = split;
    const { bins } = binned.columns[column];
    const goes = new Uint8Array(binned.offsets[binned.columns.length]);
    const offset = binned.offsets[column];
    const cut = split.left ? undefined : cutBetween(binned.columns[column], split);
    for (let bin = 0; bin < bins; bin++)
      goes[offset + bin] = split.left ? split.left[bin] : Number(bin < cut!.bin);
    goes[offset + bins] = Number(gapsLeft);
    const leftNode = split.left
      ? builder.partLevels(node.node, column, split.left, gapsLeft)
      : builder.part(node.node, column, cut!.threshold, gapsLeft);
    const middle = at.part(node.from, node.to, column, goes);
    const othersMiddle = at.part(node.othersFrom, node.othersTo, column, goes);
    const [leftWeight, leftSlope] = [split.leftWeight, split.leftSlope];
    const [rightWeight, rightSlope] = [node.weight - leftWeight, node.slope - leftSlope];
    const left: Waiting = {
      ...node,
      node: leftNode,
      depth: node.depth + 1,
      weight: leftWeight,
      slope: leftSlope,
      to: middle,
      othersTo: othersMiddle,
      slot: -1,
    };
    const right: Waiting = {
      ...left,
      node: leftNode + 1,
      weight: rightWeight,
      slope: rightSlope,
      from: middle,
      to: node.to,
      othersFrom: othersMiddle,
      othersTo: node.othersTo,
    };
    const direction = directions?.[column] ?? 0;
    if (direction !== 0 && split.next < bins) {
      // Nothing beneath the one side may pass the middle of both, nor anything beneath the other.
      const middleValue =
        (leafValue(leftWeight, leftSlope, node, l2) +
          leafValue(rightWeight, rightSlope, node, l2)) /
        2;
      if (direction > 0) [left.greatest, right.least] = [middleValue, middleValue];
      else [left.least, right.greatest] = [middleValue, middleValue];
    }
    return [left, right];
  }
}

/** Every patient is in one of the bins of the first input; sums are exact, in whatever order. */
function totalOf(sums: Float64Array, { columns }: Binned): [weight: number, slope: number] {
  let [weight, slope] = [0, 0];
  for (let bin = 0; bin <= columns[0].bins; bin++) {
    weight += sums[2 * bin];
    slope += sums[2 * bin + 1];
  }
  return [weight, slope];
}
