import { randomStream, sortedQuantile } from '../numeric/index.ts';
import { costOfCall, type ErrorCosts } from './costs.ts';
import { chooseCutoff, type CutoffRule } from './cutoff.ts';
import { errorTable } from './error-table.ts';
import type { Interval } from './intervals.ts';
import type { RankedRisks } from './ranked.ts';
import { ratesOf, type Figure, type Rate, type Rates } from './rates.ts';
import { areaUnderCurve } from './roc.ts';
import { meanOf } from './subgroups.ts';

/** Patients with what was said of them and what happened. */
export interface Told {
  scores: Float64Array;
  events: ArrayLike<number>;
  ranked: RankedRisks;
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
  { scores, events, ranked }: Told,
  cutoff: number,
  costs: ErrorCosts | undefined,
  isRisk: boolean,
): Partial<Record<PromisedMeasure, Figure>> {
  const rates = ratesOf(errorTable(ranked, cutoff));
  const proportions = Object.fromEntries(
    shares.map((name): [PromisedMeasure, Rate] => [name, rates[name]]),
  );
  const mean = (of: (score: number, i: number) => number, least?: number) =>
    fewerPatients(meanOf(scores, of, least), ranked.times);
  return {
    ...proportions,
    area: fewerPatients(areaUnderCurve(scores, events) ?? {}, ranked.times),
    ...(costs && {
      cost: mean((score, i) => 1000 * costOfCall(score, events[i], cutoff, costs)),
    }),
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
  const times = new Uint16Array(length);
  const found = Float64Array.from({ length: rounds }, () => {
    times.fill(0);
    for (let i = 0; i < patients; i++) times[Math.floor(draw.uniform() * length)]++;
    return chooseCutoff(rule, drawnAnew(ranked, times, patients), costs);
  }).sort();
  return [sortedQuantile(found, 0.025), sortedQuantile(found, 0.975)];
}

/** The same order, each prediction so many times: nothing need be sorted. */
function drawnAnew(ranked: RankedRisks, times: Uint16Array, patients: number): RankedRisks {
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
