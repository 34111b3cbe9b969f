import type { BinnedColumn } from './binned.ts';

/** Where the patients of a node are parted. */
export interface Cut {
  /** Whoever has less goes left. */
  threshold: number;
  /** The first bin that goes right; all below it go left. */
  bin: number;
}

/**
 * Half-way between two bins that hold patients of the node, but not within a bin between them that holds
 * others: whoever is in a bin goes where the threshold says.
 *
 * @param upTo the bin on the left @param next that on the right; `bins` where there is none
 */
export function cutBetween(
  { bins, least, greatest }: BinnedColumn,
  { upTo, next }: { upTo: number; next: number },
): Cut {
  if (next === bins) return { threshold: Infinity, bin: bins };
  const threshold = between(greatest![upTo], least![next]);
  let bin = upTo + 1;
  while (bin < next && greatest![bin] < threshold) bin++;
  return least![bin] >= threshold
    ? { threshold, bin }
    : { threshold: between(greatest![bin - 1], least![bin]), bin };
}

/** Half-way, but never the lower number itself, from which on patients would change sides. */
export function between(low: number, high: number): number {
  const middle = low + (high - low) / 2;
  return middle > low ? middle : high;
}
