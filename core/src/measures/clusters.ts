import { tQuantile, z95 } from '../numeric/index.ts';

/** Which rows belong together: those of one patient, or of one group. Outcomes within a cluster are correlated. */
export interface Clusters {
  /** Cluster of each row, from 0. */
  codes: Int32Array;
  count: number;
}

/** Clusters with codes from 0 in the order of rows; undefined where no code repeats. */
export function clustersOf(codes: ArrayLike<number>): Clusters | undefined {
  const places = new Map<number, number>();
  const own = new Int32Array(codes.length);
  for (let row = 0; row < codes.length; row++) {
    const place = places.get(codes[row]) ?? places.size;
    places.set(codes[row], place);
    own[row] = place;
  }
  return places.size === codes.length ? undefined : { codes: own, count: places.size };
}

/** The clusters of some rows, in the order given. */
export const takeClusters = (
  clusters: Clusters | undefined,
  rows: ArrayLike<number>,
): Clusters | undefined =>
  clusters && clustersOf(Int32Array.from(rows, (row) => clusters.codes[row]));

/**
 * Variance of a sum of rows by how the sums of clusters differ: k / (k - 1) × Σ (sum of cluster - mean)²
 * (linearised, or cluster-robust, variance: Liang & Zeger 1986, Biometrika 73:13-22; from memory). NaN with
 * one cluster.
 *
 * @param adds what each row adds, in the units of the estimate: its influence
 */
export function variationBetween(adds: ArrayLike<number>, { codes, count }: Clusters): number {
  const sums = new Float64Array(count);
  for (let row = 0; row < codes.length; row++) sums[codes[row]] += adds[row];
  const mean = sums.reduce((sum, one) => sum + one, 0) / count;
  const squares = sums.reduce((sum, one) => sum + (one - mean) ** 2, 0);
  return (squares * count) / (count - 1);
}

/** By how many standard errors a 95% interval reaches: Student's t by the clusters, else the normal quantile. */
export const reachOf = (clusters: { count: number } | undefined): number =>
  clusters ? tQuantile(0.025, Math.max(1, clusters.count - 1)) : z95;
