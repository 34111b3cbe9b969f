import type { MayPart } from './split-rules.ts';

/** What a tree says may only rise, or only fall, with some inputs. */
export interface Directions {
  /** Of each input: 1 where it may only rise, -1 where it may only fall, 0 otherwise. */
  of: Int8Array;
  /** What a node with these sums says. @param all the sums of all patients of the tree */
  saysOf: (sums: Float64Array, all: Float64Array) => number;
}

/** Ends between which everything beneath a node must stay. */
export interface Bounds {
  low: number;
  high: number;
}

export const unbounded: Bounds = { low: -Infinity, high: Infinity };

/** Refuses what goes against a direction, or beyond what was said on the other side of one before. */
export function mayPart(
  { of, saysOf }: Directions,
  all: Float64Array,
  { low, high }: Bounds,
): MayPart {
  return (column, left, right, byNumber) => {
    const [a, b] = [saysOf(left, all), saysOf(right, all)];
    if (Math.min(a, b) < low || Math.max(a, b) > high) return false;
    return !byNumber || of[column] === 0 || of[column] * (b - a) >= 0;
  };
}

/**
 * The ends for both children. Parted by an input with a direction, neither may reach beyond the middle of the
 * two, so that no patient beneath one is told more than the least beneath the other.
 */
export function boundsBelow(
  { of, saysOf }: Directions,
  all: Float64Array,
  { low, high }: Bounds,
  [column, left, right, byNumber]: Parameters<MayPart>,
): [Bounds, Bounds] {
  const direction = byNumber ? of[column] : 0;
  if (direction === 0)
    return [
      { low, high },
      { low, high },
    ];
  const middle = (saysOf(left, all) + saysOf(right, all)) / 2;
  const [below, above] = [
    { low, high: middle },
    { low: middle, high },
  ];
  return direction > 0 ? [below, above] : [above, below];
}
