import { reachOf, variationBetween, type Clusters } from './clusters.ts';
import { wilsonInterval, type Interval } from './intervals.ts';
import { z95 } from '../numeric/index.ts';

/** How the four counts of an error table vary, where rows stand in clusters. */
export interface TableSpread {
  /** Clusters, and those with a case, with another, with somebody called in, with somebody left alone. */
  clusters: number;
  among: Record<Side, number>;
  /** Covariance of the counts found, missed, false alarms, rightly left: row-major, 4 × 4. */
  covariance: number[];
}

type Side = 'events' | 'others' | 'called' | 'left';

/** Counts in the order of their covariance. */
export const countsOf = (table: {
  found: number;
  missed: number;
  falseAlarms: number;
  rightlyLeft: number;
}): number[] => [table.found, table.missed, table.falseAlarms, table.rightlyLeft];

/**
 * @param events 1 for a case, in the order of `clusters`
 * @param called number of rows, from the first, that are called in
 * @param times rows of each patient, of which a count is the mean
 */
export function tableSpread(
  events: ArrayLike<number>,
  called: number,
  { codes, count }: Clusters,
  times: number,
): TableSpread {
  const sums = new Float64Array(4 * count);
  for (let row = 0; row < codes.length; row++) {
    const kind = row < called ? (events[row] ? 0 : 2) : events[row] ? 1 : 3;
    sums[4 * codes[row] + kind] += 1 / times;
  }
  const means = [0, 1, 2, 3].map((kind) => {
    let sum = 0;
    for (let c = 0; c < count; c++) sum += sums[4 * c + kind];
    return sum / count;
  });
  const covariance = new Array<number>(16).fill(0);
  const among = { events: 0, others: 0, called: 0, left: 0 };
  for (let c = 0; c < count; c++) {
    const own = sums.subarray(4 * c, 4 * c + 4);
    if (own[0] + own[1] > 0) among.events++;
    if (own[2] + own[3] > 0) among.others++;
    if (own[0] + own[2] > 0) among.called++;
    if (own[1] + own[3] > 0) among.left++;
    for (let i = 0; i < 4; i++)
      for (let j = 0; j < 4; j++)
        covariance[4 * i + j] += (own[i] - means[i]) * (own[j] - means[j]);
  }
  return {
    clusters: count,
    among,
    covariance: covariance.map((sum) => (sum * count) / (count - 1)),
  };
}

/** Variance of a figure of the counts, by the delta method. @param slopes derivative in each count */
export function varianceAlong(slopes: number[], covariance: number[]): number {
  let variance = 0;
  for (let i = 0; i < 4; i++)
    for (let j = 0; j < 4; j++) variance += slopes[i] * slopes[j] * covariance[4 * i + j];
  return Math.max(0, variance);
}

/**
 * Rows of independent patients that would tell a proportion as well as these do: the total over the design
 * effect (Kish 1965, Survey Sampling; from memory), and less where clusters are few. Without variation
 * between clusters, as many as there are clusters.
 */
export function effectiveTotal(
  share: number,
  total: number,
  variance: number,
  { clusters, among }: { clusters: number; among: number },
): number {
  if (!(variance > 0)) return Math.min(total, among);
  const wider = z95 / reachOf({ count: clusters });
  return Math.min(total, ((share * (1 - share)) / variance) * wider ** 2);
}

/** 95% interval of the share of ones: Wilson's, with the effective number of rows where they stand in clusters. */
export function shareInterval(ones: Float64Array, clusters: Clusters | undefined): Interval {
  const { length } = ones;
  const share = ones.reduce((sum, one) => sum + one, 0) / length;
  if (!clusters) return wilsonInterval(share * length, length)!;
  const variance = variationBetween(
    ones.map((one) => (one - share) / length),
    clusters,
  );
  const { count } = clusters;
  const effective = effectiveTotal(share, length, variance, { clusters: count, among: count });
  return wilsonInterval(share * effective, effective)!;
}
