import type { Binned } from './binned.ts';
import { byOrder } from './by-order.ts';
import { bySums } from './by-sums.ts';
import type { Search } from './parting.ts';
import type { Target } from './target.ts';

/**
 * Few patients are looked through in the order of each input, which costs the same however many
 * different values there are; of many, the sums of each bin are made.
 */
export const searchFor = (
  binned: Binned,
  target: Target,
  rows: Int32Array,
  leastLeaf: number,
): Search =>
  binned.offsets[binned.columns.length] > rows.length
    ? byOrder(binned, target, rows, leastLeaf)
    : bySums(binned, target, rows, leastLeaf);
