import type { Target } from './target.ts';

/** One way to part the patients of a node. */
export interface Split {
  column: number;
  /** What is gained in likeness. */
  gain: number;
  gapsLeft: boolean;
  /** A number: bins up to this one go left. Levels: undefined. */
  upTo?: number;
  /** A number: the next bin that any patient of the node is in; `bins` where only those not known go right. */
  next?: number;
  /** Levels: 1 for each that goes left. */
  left?: Uint8Array;
}

/** Whether a split parts those of less from those of more. */
export const isByNumber = ({ column, next }: Split, { columns }: { columns: { bins: number }[] }) =>
  next !== undefined && next < columns[column].bins;

/** A node as its splits are looked for. */
export interface NodeSums {
  /** Of every bin of every column. */
  sums: Float64Array;
  total: Float64Array;
  weight: number;
  likeness: number;
}

export const nodeSums = (target: Target, sums: Float64Array, total: Float64Array): NodeSums => ({
  sums,
  total,
  weight: target.weightOf(total, 0),
  likeness: target.likeness(total, 0),
});

/** One column of a node: where its bins begin among the sums; those of who lacks it stand last. */
export interface ColumnSums {
  place: number;
  bins: number;
  at: number;
  isNumber: boolean;
}

/** What a split is looked for under. */
export interface SplitTask {
  target: Target;
  node: NodeSums;
  /** Weight of patients that each side must have. */
  leastLeaf: number;
  /** What else a split must satisfy. */
  mayPart?: MayPart;
}

/**
 * Whether an input may part patients into those with these sums.
 *
 * @param byNumber those of less go left; otherwise levels, or those who lack it from those who do not
 */
export type MayPart = (
  column: number,
  left: Float64Array,
  right: Float64Array,
  byNumber: boolean,
) => boolean;

/** Gains that differ by rounding alone are the same: the first column and the lowest threshold stand. */
const sameGain = 1e-10;

/** A bin with less of the node's weight is empty, whatever subtraction left of rounding in it. */
export const nothing = 1e-9;

export function isBetter(gain: number, best: Split | undefined, { likeness }: NodeSums): boolean {
  const least = best ? best.gain : 0;
  return gain > least + sameGain * Math.max(Math.abs(likeness), least);
}
