import { randomStream, sortedQuantile, type RandomStream } from '../numeric/index.ts';
import type { Clusters } from './clusters.ts';
import { splitByOutcome } from './ranked.ts';

/** Of a share of others called in, where the share of cases called in lies. */
export interface BandPoint {
  falseAlarmShare: number;
  lower: number;
  upper: number;
}

/** Steps along the axis. */
const steps = 50;
/** Patients drawn in all: many times of few, fewer times of many. */
const most = 10_000_000;

/**
 * 95% limits of the ROC curve point by point: cases and others are drawn anew, each among themselves,
 * and the sensitivity is read where a share of the others is called in (Efron & Tibshirani 1993, An
 * Introduction to the Bootstrap, chapter 13). With clusters, whole clusters are drawn. Undefined where one of
 * both has fewer than two patients.
 */
export function rocBand(
  risks: ArrayLike<number>,
  events: ArrayLike<number>,
  clusters?: Clusters,
  seed = 1,
): BandPoint[] | undefined {
  const { event, none } = splitByOutcome(risks, events);
  if (event.length < 2 || none.length < 2) return undefined;
  const sample = clusters
    ? clusterSampler(risks, events, clusters)
    : (draw: RandomStream) => [drawnAnew(event, draw), drawnAnew(none, draw)];
  const rounds = Math.max(100, Math.min(1000, Math.floor(most / risks.length)));
  const draw = randomStream(seed, 'band of a ROC curve');
  const found = Array.from({ length: steps - 1 }, () => new Float64Array(rounds));
  for (let round = 0; round < rounds; round++) {
    const [cases, others] = sample(draw);
    for (let k = 1; k < steps; k++) found[k - 1][round] = sensitivityAt(cases, others, k / steps);
  }
  const inner = found.map((values, k): BandPoint => {
    values.sort();
    return {
      falseAlarmShare: (k + 1) / steps,
      lower: sortedQuantile(values, 0.025),
      upper: sortedQuantile(values, 0.975),
    };
  });
  return [...inner, { falseAlarmShare: 1, lower: 1, upper: 1 }];
}

/** Bootstrap samples of whole clusters, as ascending risks of cases and of others; a sample has some of both. */
function clusterSampler(
  risks: ArrayLike<number>,
  events: ArrayLike<number>,
  { codes, count }: Clusters,
): (draw: RandomStream) => Float64Array[] {
  const order = Int32Array.from(codes.keys()).sort((a, b) => risks[a] - risks[b]);
  const times = new Uint16Array(count);
  return (draw) => {
    for (;;) {
      times.fill(0);
      for (let i = 0; i < count; i++) times[Math.floor(draw.uniform() * count)]++;
      const drawn: [number[], number[]] = [[], []];
      for (const row of order)
        for (let k = 0; k < times[codes[row]]; k++) drawn[events[row] ? 0 : 1].push(risks[row]);
      if (drawn[0].length > 0 && drawn[1].length > 0)
        return drawn.map((values) => Float64Array.from(values));
    }
  };
}

/** As many of these as there are, in the same order: nothing need be sorted. */
function drawnAnew(from: Float64Array, draw: RandomStream): Float64Array {
  const { length } = from;
  const times = new Uint16Array(length);
  for (let i = 0; i < length; i++) times[Math.floor(draw.uniform() * length)]++;
  const drawn = new Float64Array(length);
  let at = 0;
  for (let i = 0; i < length; i++) for (let k = 0; k < times[i]; k++) drawn[at++] = from[i];
  return drawn;
}

/** Share of cases above the risk that this share of the others has, ties drawn straight as the curve is. */
function sensitivityAt(cases: Float64Array, others: Float64Array, share: number): number {
  const wanted = share * others.length;
  const at = Math.min(others.length, Math.ceil(wanted - 1e-9));
  const risk = others[others.length - at];
  const [above, withIt] = countsOf(cases, risk);
  const [othersAbove, othersWith] = countsOf(others, risk);
  const part = othersWith === 0 ? 1 : Math.max(0, Math.min(1, (wanted - othersAbove) / othersWith));
  return (above + part * withIt) / cases.length;
}

/** Values above this one, and those that are it. @param values ascending */
function countsOf(values: Float64Array, one: number): [number, number] {
  const from = firstNotBelow(values, (value) => value < one);
  const to = firstNotBelow(values, (value) => value <= one);
  return [values.length - to, to - from];
}

function firstNotBelow(values: Float64Array, isBelow: (value: number) => boolean): number {
  let [low, high] = [0, values.length];
  while (low < high) {
    const middle = (low + high) >>> 1;
    if (isBelow(values[middle])) low = middle + 1;
    else high = middle;
  }
  return low;
}
