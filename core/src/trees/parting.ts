import type { MayPart, Split } from './split-rules.ts';

/** The patients of a node: a stretch of those in `rows`. */
export interface Span {
  from: number;
  to: number;
  /** What the search keeps of the node until it is parted. */
  sums?: Float64Array;
}

/** How the best split of a node is found, and its patients are parted. */
export interface Search {
  /** All patients, those of each node side by side. */
  rows: Int32Array;
  find(span: Span, total: Float64Array, mayPart?: MayPart): Split | undefined;
  /** Puts the patients who go left first. Gives where the others begin. */
  part(span: Span, split: Split): number;
  /** Lets the children begin from what is kept of a node. @param large absent where it is not split */
  handOn(span: Span, small: Span, large: Span | undefined): void;
  /** The node stays a leaf: what is kept of it may go. */
  leave(span: Span): void;
}

/** 1 for each bin of the split's column whose patients go left, those who lack it last. */
export function leftBins({ bins }: { bins: number }, { upTo, left, gapsLeft }: Split): Uint8Array {
  const goes = new Uint8Array(bins + 1);
  for (let bin = 0; bin < bins; bin++) goes[bin] = left ? left[bin] : Number(bin <= upTo!);
  goes[bins] = Number(gapsLeft);
  return goes;
}
