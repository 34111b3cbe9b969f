import { randomStream, sortedQuantile } from '../numeric/index.ts';
import { counterOf, type Counter } from './counters.ts';
import type { Scored, SearchMeasure } from './measures.ts';

/** What the best of many would have been found to be, had it been chosen on other patients. */
export interface Corrected {
  value: number;
  /** 95%, percentiles of the draws. */
  interval: [number, number];
  /** Of the best on all patients, as it was found; of all folds together. */
  uncorrected: number;
  /** Draws of which there is a value. */
  draws: number;
}

/** Patients' predictions that are looked at in all, and draws. */
const mostLooks = { quick: 600e6, slow: 30e6 };
const [fewestDraws, mostDraws] = [100, 500];

/**
 * Bootstrap bias corrected cross-validation: patients are drawn anew, the best is chosen on those drawn and judged on
 * those left out (Tsamardinos, Greasidou & Borboudakis 2018, Machine Learning 107:1895-1922). Undefined where
 * there are too many predictions for a hundred draws, or no draw has a value.
 *
 * @param tried out-of-fold predictions of the same patients by each of the settings
 * @param times how often each patient is among them: those of each time behind one another
 * @param draws patients drawn in each round, by place; drawn here where absent
 */
export function correctForChoice(
  tried: Scored[],
  measure: SearchMeasure,
  times: number,
  seed: number,
  draws?: ArrayLike<number>[],
): Corrected | undefined {
  const rows = tried[0].scores.length;
  const patients = rows / times;
  const counters = tried.map((scored) => counterOf(scored, measure));
  const looks = counters[0].isQuick ? mostLooks.quick : mostLooks.slow;
  const rounds = draws?.length ?? Math.min(mostDraws, Math.floor(looks / (rows * tried.length)));
  if (!draws && rounds < fewestDraws) return undefined;
  const stream = randomStream(seed, 'choice corrected');
  const [inside, outside] = [new Float64Array(rows), new Float64Array(rows)];
  const values: number[] = [];
  for (let round = 0; round < rounds; round++) {
    inside.fill(0);
    for (let i = 0; i < patients; i++)
      inside[draws ? draws[round][i] : Math.floor(stream.uniform() * patients)]++;
    for (let i = patients; i < rows; i++) inside[i] = inside[i - patients];
    for (let i = 0; i < rows; i++) outside[i] = inside[i] === 0 ? 1 : 0;
    const best = bestOf(counters, inside, measure);
    const value = best?.counter.outside(outside, best.cutoff);
    if (value !== undefined && Number.isFinite(value)) values.push(value);
  }
  const once = new Float64Array(rows).fill(1);
  const uncorrected = bestOf(counters, once, measure);
  if (values.length === 0 || !uncorrected) return undefined;
  const sorted = Float64Array.from(values).sort();
  return {
    value: values.reduce((sum, one) => sum + one, 0) / values.length,
    interval: [sortedQuantile(sorted, 0.025), sortedQuantile(sorted, 0.975)],
    uncorrected: uncorrected.value,
    draws: values.length,
  };
}

function bestOf(
  counters: Counter[],
  counts: Float64Array,
  { better }: SearchMeasure,
): { counter: Counter; value: number; cutoff: number } | undefined {
  const sign = better === 'higher' ? 1 : -1;
  let best: { counter: Counter; value: number; cutoff: number } | undefined;
  for (const counter of counters) {
    const found = counter.inside(counts);
    if (found && Number.isFinite(found.value) && (!best || sign * (found.value - best.value) > 0))
      best = { counter, ...found };
  }
  return best;
}
