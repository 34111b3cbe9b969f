import {
  chooseCutoff,
  crossFittedCutoffs,
  nobodyOf,
  rankRisks,
  type AllErrorCosts,
  type Judged,
} from '../measures/index.ts';
import {
  caseScores,
  casesOf,
  takeOutcome,
  takePredictions,
  type CaseRule,
} from '../outcome/index.ts';
import { searchMeasures, type Scored, type SearchMeasure } from './measures.ts';

/** A measure of one of the settings tried. */
export interface TriedFigure {
  value: number;
  /** Its standard error over the folds; absent where fewer than two of them have a value. */
  error?: number;
}

export type TriedFigures = Record<string, TriedFigure>;

/** What calls are judged by. */
export interface JudgedBy {
  cases: CaseRule;
  /** Each patient's own in the order of what is judged, where they have such. */
  costs: AllErrorCosts;
}

/**
 * Every measure of out-of-fold predictions, calls at cutoffs of the other folds, with the standard error of the
 * mean of the folds.
 *
 * @param folds of each prediction; folds dealt several times are numbered on
 * @param times how often they were dealt: more times are no more patients, so the error is that of one time
 */
export function judgeFolds(
  judged: Judged,
  folds: ArrayLike<number>,
  by: JudgedBy,
  times = 1,
): TriedFigures {
  const all = crossFitted(scoredOf(judged, by), folds, times);
  const parts = partsOf(folds).map((places) => partOf(all, places));
  const ownTimes = timesOf(all, times);
  return figures(judged, (measure) => {
    const valuesOf = (some: Scored[]) => some.flatMap((one) => measure.of(one) ?? []);
    const each = valuesOf(parts);
    const value = measure.id === 'auc' ? meanOf(each) : meanOf(valuesOf(ownTimes));
    if (!Number.isFinite(value)) return undefined;
    if (each.length < 2) return { value };
    const mean = meanOf(each);
    const variance = each.reduce((sum, one) => sum + (one - mean) ** 2, 0) / (each.length - 1);
    return { value, error: Math.sqrt(variance / (each.length / times)) };
  });
}

/** Each patient at the cutoff that is cheapest in the other folds, so that none is judged at one of their own. */
function crossFitted(all: Scored, folds: ArrayLike<number>, times: number): Scored {
  const { scores, cases, costs, judged } = all;
  const nobody = nobodyOf(judged.outcome.kind);
  const cutoffs = crossFittedCutoffs(
    scores,
    cases,
    folds,
    { rule: 'cheapest' },
    costs,
    nobody,
    times,
  );
  return cutoffs ? { ...all, cutoffs } : all;
}

/** NaN where there are none. */
const meanOf = (values: number[]) => values.reduce((sum, one) => sum + one, 0) / values.length;

/** What was predicted each of the times. */
function timesOf(all: Scored, times: number): Scored[] {
  if (times === 1) return [all];
  const length = all.scores.length / times;
  return Array.from({ length: times }, (_, time) =>
    partOf(
      all,
      Int32Array.from({ length }, (_patient, i) => time * length + i),
    ),
  );
}

/** Every measure of predictions of those who were learned from. */
export function judgeDevelopment(judged: Judged, by: JudgedBy): Record<string, number> {
  const all = scoredOf(judged, by);
  return figures(judged, (measure) => {
    const value = measure.of(all);
    return value !== undefined && Number.isFinite(value) ? value : undefined;
  });
}

/** Patients with the cutoff at which they cost least. */
export function scoredOf(judged: Judged, { cases, costs }: JudgedBy): Scored {
  const scores = caseScores(judged.predictions, cases);
  const isCase = casesOf(judged.outcome, cases);
  const ranked = rankRisks(scores, isCase, nobodyOf(judged.outcome.kind), costs.own);
  return {
    judged,
    scores,
    cases: Uint8Array.from(isCase),
    cutoff: chooseCutoff({ rule: 'cheapest' }, ranked, costs),
    costs,
  };
}

/** What calls of some of the patients are judged by, in their order. */
export const ofSome = ({ cases, costs }: JudgedBy, places: ArrayLike<number>): JudgedBy => ({
  cases,
  costs: pickCosts(costs, places),
});

function pickCosts(costs: AllErrorCosts, places: ArrayLike<number>): AllErrorCosts {
  if (!costs.own) return costs;
  const { missed, falseAlarm } = costs.own;
  const pick = (values: Float64Array) => Float64Array.from(places, (place) => values[place]);
  return { ...costs, own: { missed: pick(missed), falseAlarm: pick(falseAlarm) } };
}

/** Some of the patients, at the cutoff of all. */
export function partOf(
  { judged, scores, cases, cutoff, cutoffs, costs }: Scored,
  places: Int32Array,
): Scored {
  const pick = (values: Float64Array) => Float64Array.from(places, (place) => values[place]);
  return {
    judged: {
      outcome: takeOutcome(judged.outcome, places),
      predictions: takePredictions(judged.predictions, places),
    },
    scores: pick(scores),
    cases: Uint8Array.from(places, (place) => cases[place]),
    cutoff,
    ...(cutoffs && { cutoffs: pick(cutoffs) }),
    costs: pickCosts(costs, places),
  };
}

function figures<One>(
  judged: Judged,
  figure: (measure: SearchMeasure) => One | undefined,
): Record<string, One> {
  const found: Record<string, One> = {};
  for (const measure of searchMeasures[judged.outcome.kind]) {
    const one = figure(measure);
    if (one !== undefined) found[measure.id] = one;
  }
  return found;
}

function partsOf(folds: ArrayLike<number>): Int32Array[] {
  const places: number[][] = [];
  for (let i = 0; i < folds.length; i++) (places[folds[i]] ??= []).push(i);
  return places.filter(Boolean).map((own) => Int32Array.from(own));
}
