import type { Clusters } from '../measures/index.ts';
import { randomStream } from '../numeric/index.ts';

/** How a difference varies among patients drawn anew. */
export interface Redrawn {
  difference: number;
  /** 95%, from the 2.5th to the 97.5th percentile of the draws. */
  interval: [number, number];
  p: number;
}

/** A difference of means over some of the patients: what each adds, and whether each is counted. */
export interface MeanDifference {
  adds: Float64Array;
  counted: ArrayLike<number>;
}

/** Draws of one patient each that are made in all; every difference has at least `fewest` rounds. */
const mostDraws = 40e6;
const [fewest, most] = [400, 2000];

/**
 * Bootstrap by patient (Efron & Tibshirani 1993): all differences from the same draws. Undefined for one
 * that counts nobody.
 *
 * @param clusters are drawn whole, where rows are not independent
 * @param patients how many each of the differences is of
 */
export function redraw(
  patients: number,
  differences: MeanDifference[],
  seed: number,
  clusters?: Clusters,
): (Redrawn | undefined)[] {
  const rounds = Math.min(most, Math.max(fewest, Math.floor(mostDraws / patients)));
  const draw = randomStream(seed, 'patients drawn anew');
  const found = differences.map(() => new Float64Array(rounds));
  const times = new Uint16Array(patients);
  const ofCluster = new Uint16Array(clusters?.count ?? 0);
  for (let round = 0; round < rounds; round++) {
    times.fill(0);
    if (clusters) {
      ofCluster.fill(0);
      for (let i = 0; i < clusters.count; i++)
        ofCluster[Math.floor(draw.uniform() * clusters.count)]++;
      for (let i = 0; i < patients; i++) times[i] = ofCluster[clusters.codes[i]];
    } else for (let i = 0; i < patients; i++) times[Math.floor(draw.uniform() * patients)]++;
    differences.forEach((one, k) => (found[k][round] = meanOf(one, times)));
  }
  const once = new Uint16Array(patients).fill(1);
  return differences.map((one, k) => {
    const difference = meanOf(one, once);
    if (Number.isNaN(difference)) return undefined;
    // A draw may have nobody who counts.
    const values = found[k].filter((value) => !Number.isNaN(value)).sort();
    const at = (share: number) => values[Math.round(share * (values.length - 1))];
    const beside = (isThere: (value: number) => boolean) =>
      (values.filter(isThere).length + 1) / (values.length + 1);
    const sides = Math.min(
      beside((value) => value <= 0),
      beside((value) => value >= 0),
    );
    return { difference, interval: [at(0.025), at(0.975)], p: Math.min(1, 2 * sides) };
  });
}

/** The mean over those who are counted, each as often as they were drawn; NaN where nobody is. */
export function meanOf({ adds, counted }: MeanDifference, times: Uint16Array): number {
  let [sum, count] = [0, 0];
  for (let i = 0; i < times.length; i++) {
    if (times[i] === 0 || counted[i] === 0) continue;
    sum += times[i] * adds[i];
    count += times[i];
  }
  return sum / count;
}
