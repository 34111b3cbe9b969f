import type { Draws } from './draws.ts';

/** How the patients of a tree are drawn. */
export type Sampling =
  | { way: 'bootstrap' }
  /** Without putting back; above 0 up to 1. */
  | { way: 'share'; share: number }
  /** With putting back, as many of each level as the rarest has. */
  | { way: 'balanced'; levels: ArrayLike<number>; count: number };

/** Whom a forest draws from. */
export interface Pool {
  /** Patients in an order that does not depend on that of the table. */
  order: Int32Array;
  /** Kind 'balanced': those of each level, in that order. */
  byLevel?: Int32Array[];
}

export function poolOf(order: Int32Array, sampling: Sampling): Pool {
  if (sampling.way !== 'balanced') return { order };
  const byLevel = Array.from({ length: sampling.count }, (_, level) =>
    order.filter((row) => sampling.levels[row] === level),
  );
  return { order, byLevel: byLevel.filter(({ length }) => length > 0) };
}

/** How often each patient is in the sample of a tree. @param times one a patient, overwritten */
export function drawSample(
  { order, byLevel }: Pool,
  sampling: Sampling,
  draws: Draws,
  times: Float64Array,
): void {
  times.fill(0);
  if (sampling.way === 'share') {
    let left = Math.max(1, Math.round(sampling.share * order.length));
    for (let i = 0; left > 0; i++)
      if (draws.below(order.length - i) < left) {
        times[order[i]] = 1;
        left--;
      }
    return;
  }
  const pools = byLevel ?? [order];
  const each = Math.min(...pools.map(({ length }) => length));
  for (const pool of pools) for (let i = 0; i < each; i++) times[pool[draws.below(pool.length)]]++;
}
