import { randomStream, sortedQuantile } from '../numeric/index.ts';
import type { Clusters } from './clusters.ts';
import { costFigure } from './cost-figure.ts';
import type { ErrorCosts } from './costs.ts';
import { chooseCutoff, type CutoffRule } from './cutoff.ts';
import { errorTable } from './error-table.ts';
import type { Interval } from './intervals.ts';
import type { RankedRisks } from './ranked.ts';
import { ratesOf, type Figure, type Rate, type Rates } from './rates.ts';
import { areaUnderCurve } from './roc.ts';
import { meanFigure } from './mean-figure.ts';

/** Patients with what was said of them and what happened. */
export interface Told {
  scores: Float64Array;
  events: ArrayLike<number>;
  ranked: RankedRisks;
  /** Where several scores are of one patient or group: in the order of `scores`, as in `ranked`. */
  clusters?: Clusters;
}

export type PromisedMeasure =
  | 'sensitivity'
  | 'specificity'
  | 'positivePredictiveValue'
  | 'negativePredictiveValue'
  | 'accuracy'
  | 'area'
  | 'cost'
  | 'brier'
  | 'told';

/** A figure out of fold, in the held-out patients, and the second less the first. */
export interface Promised {
  measure: PromisedMeasure;
  promised: number;
  checked: number;
  difference: number;
  interval?: Interval;
}

/**
 * What was promised out of fold against what was found in other patients, at one cutoff. Both are of
 * different patients, so that reaches of intervals square and add: Newcombe (1998), Statistics in Medicine
 * 17:873-890, method 10, for proportions.
 *
 * @param costs two costs for all; absent where there are none such
 * @param isRisk scores are risks
 */
export function promiseAndCheck(
  promised: Told,
  checked: Told,
  cutoff: number,
  costs: ErrorCosts | undefined,
  isRisk: boolean,
): Promised[] {
  const both = [promised, checked].map((told) => figuresOf(told, cutoff, costs, isRisk));
  return (Object.keys(both[0]) as PromisedMeasure[]).flatMap((measure) => {
    const [one, other] = both.map((figures) => figures[measure]!);
    if (one.value === undefined || other.value === undefined) return [];
    const difference = other.value - one.value;
    return [
      {
        measure,
        promised: one.value,
        checked: other.value,
        difference,
        ...(one.interval && other.interval && { interval: between(one, other, difference) }),
      },
    ];
  });
}

function between(one: Figure, other: Figure, difference: number): Interval {
  const [low, high] = [one, other].map(({ value, interval }) => value! - interval![0]);
  const [above, beyond] = [one, other].map(({ value, interval }) => interval![1] - value!);
  return [difference - Math.hypot(above, high), difference + Math.hypot(low, beyond)];
}

const shares = [
  'sensitivity',
  'specificity',
  'positivePredictiveValue',
  'negativePredictiveValue',
  'accuracy',
] as const satisfies (keyof Rates)[];

function figuresOf(
  { scores, events, ranked, clusters }: Told,
  cutoff: number,
  costs: ErrorCosts | undefined,
  isRisk: boolean,
): Partial<Record<PromisedMeasure, Figure>> {
  const table = errorTable(ranked, cutoff);
  const rates = ratesOf(table);
  const proportions = Object.fromEntries(
    shares.map((name): [PromisedMeasure, Rate] => [name, rates[name]]),
  );
  const mean = (of: (score: number, i: number) => number, least?: number) =>
    fewerPatients(meanFigure(scores.map(of), clusters, least), clusters ? 1 : ranked.times);
  return {
    ...proportions,
    area: fewerPatients(
      areaUnderCurve(scores, events, clusters) ?? {},
      clusters ? 1 : ranked.times,
    ),
    ...(costs && { cost: costFigure(table, costs) }),
    ...(isRisk && {
      brier: mean((score, i) => (score - events[i]) ** 2),
      told: mean((score, i) => score - events[i], -1),
    }),
  };
}

/** Patients who were predicted several times are no more patients for that. */
function fewerPatients({ value, interval }: Figure, times: number): Figure {
  if (value === undefined || !interval || times === 1) return { value, interval };
  return {
    value,
    interval: interval.map((end) => value + (end - value) * Math.sqrt(times)) as Interval,
  };
}

/** How many patients are drawn in all. */
const mostDrawn = 8_000_000;

/**
 * Where a cutoff that a rule puts would lie with other patients of the same kind: 95% of the cutoffs that
 * it gives when patients are drawn anew (Efron & Tibshirani 1993, chapter 13). Undefined for one put by hand.
 */
export function cutoffInterval(
  rule: CutoffRule,
  ranked: RankedRisks,
  costs: ErrorCosts,
  seed = 1,
): Interval | undefined {
  const { length } = ranked.risks;
  if (rule.rule === 'hand' || length < 2) return undefined;
  const patients = Math.round(ranked.patients);
  const rounds = Math.max(80, Math.min(400, Math.floor(mostDrawn / length)));
  const draw = randomStream(seed, 'how steady a cutoff is');
  const { clusters } = ranked;
  const times = new Uint16Array(length);
  const ofCluster = new Uint16Array(clusters?.count ?? 0);
  const found = Float64Array.from({ length: rounds }, () => {
    times.fill(0);
    ofCluster.fill(0);
    if (clusters) {
      for (let i = 0; i < clusters.count; i++)
        ofCluster[Math.floor(draw.uniform() * clusters.count)]++;
      for (let i = 0; i < length; i++) times[i] = ofCluster[clusters.codes[i]];
    } else for (let i = 0; i < patients; i++) times[Math.floor(draw.uniform() * length)]++;
    return chooseCutoff(rule, drawnAnew(ranked, times), costs);
  }).sort();
  return [sortedQuantile(found, 0.025), sortedQuantile(found, 0.975)];
}

/** The same order, each prediction so many times: nothing need be sorted. */
function drawnAnew(ranked: RankedRisks, times: Uint16Array): RankedRisks {
  const patients = times.reduce((sum, one) => sum + one, 0);
  const risks = new Float64Array(patients);
  const eventsAbove = new Int32Array(patients + 1);
  let at = 0;
  for (let i = 0; i < times.length; i++) {
    const event = ranked.eventsAbove[i + 1] - ranked.eventsAbove[i];
    for (let k = 0; k < times[i]; k++) {
      risks[at] = ranked.risks[i];
      eventsAbove[at + 1] = eventsAbove[at] + event;
      at++;
    }
  }
  const events = eventsAbove[patients];
  return { patients, events, risks, times: 1, nobody: ranked.nobody, eventsAbove };
}
