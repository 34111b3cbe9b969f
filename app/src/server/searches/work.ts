// What threads do for a search: nothing is read or written here.
import type { Settings } from '@rook-scale/core/families';
import {
  emptyLike,
  numbersOf,
  unpackPredictions,
  widthOf,
  type Outcome,
  type Predictions,
} from '@rook-scale/core/outcome';
import type { PredictorColumn } from '@rook-scale/core/preparation';
import {
  correctForChoice,
  judgeFolds,
  nestedChoice,
  readyPart,
  scoredOf,
  searchMeasures,
  tryOnPart,
  type Corrected,
  type JudgedBy,
  type SearchRecipe,
  type TriedFigures,
} from '@rook-scale/core/search';
import type { FitPart } from '@rook-scale/core/tuning';
import type { NestedShown } from '../../contract/searches.ts';
import { collectTrials, type KeptPiece } from './collect.ts';
import { pairsOfFolds } from './pairs.ts';

/** Out-of-fold predictions of a search, and what they are judged by. */
export interface KeptTask {
  outcome: Outcome;
  pieces: KeptPiece[];
  /** Places of each part among the predictions. */
  places: Record<string, Int32Array>;
  folds: Uint8Array;
  times: number;
  by: JudgedBy;
}

/** A fit that is only timed. */
export interface TimeTask {
  part: FitPart;
  predictors: PredictorColumn[];
  outcome: Outcome;
  recipe: SearchRecipe;
  by: JudgedBy;
  group: Settings[];
  /** Each fit is prepared for anew. */
  isPreparedToo: boolean;
}

/** A quicker fit is timed once more: the first also pays for what the thread has to load. */
const quick = 500;

/** Milliseconds that one fit takes once its part is ready, as it is for all but the first. */
export function timeFit(task: TimeTask): number {
  const { part, predictors, outcome, recipe, by, group, isPreparedToo } = task;
  const prepare = () => readyPart(part, predictors, outcome, recipe);
  const ready = prepare();
  const timed = () => {
    const begun = performance.now();
    tryOnPart(isPreparedToo ? prepare() : ready, recipe, group, by);
    return performance.now() - begun;
  };
  const first = timed();
  return first < quick ? timed() : first;
}

/** Measures of each of the settings of which no part is missing. */
export function judgeTrials({
  outcome,
  pieces,
  places,
  folds,
  times,
  by,
}: KeptTask): { trial: number; figures: TriedFigures }[] {
  const collected = collectTrials(pieces, places, folds.length);
  return [...collected].flatMap(([trial, predictions]) =>
    predictions ? [{ trial, figures: judgeFolds({ outcome, predictions }, folds, by, times) }] : [],
  );
}

export interface CorrectTask extends KeptTask {
  measure: string;
  seed: number;
}

/** An estimate of the best that is not of the patients it was chosen by. */
export function correctChoice(task: CorrectTask): Corrected | null {
  const { outcome, pieces, places, folds, times, by, measure, seed } = task;
  const collected = collectTrials(pieces, places, folds.length);
  const whole = [...collected.values()].filter((one): one is Predictions => one !== undefined);
  if (whole.length < 2) return null;
  const scored = whole.map((predictions) => scoredOf({ outcome, predictions }, by));
  const asked = searchMeasures[outcome.kind].find(({ id }) => id === measure)!;
  return correctForChoice(scored, asked, times, seed) ?? null;
}

export interface NestTask extends KeptTask {
  /** What was fitted without two folds each. */
  pairs: KeptPiece[];
  measure: string;
}

/** The choice made anew inside every fold, of those settings that were fitted everywhere. */
export function nestChoice(task: NestTask): NestedShown | null {
  const { outcome, pieces, pairs, places, folds, by, measure } = task;
  const collected = collectTrials(pieces, places, folds.length);
  const count = Object.keys(places).length;
  // Who is in a pair of folds, in their order.
  const ofPairs = new Map(
    pairsOfFolds(count).map(({ name, folds: pair }) => [
      name,
      { pair, members: Int32Array.from(folds.keys()).filter((i) => pair.includes(folds[i])) },
    ]),
  );
  const inner = Array.from({ length: count }, () => new Map<number, InnerTold>());
  for (const { part, trials, header, values } of pairs) {
    const { pair, members } = ofPairs.get(part)!;
    const size = values.byteLength / trials.length;
    trials.forEach((trial, i) => {
      const told = unpackPredictions({ header, bytes: values.subarray(i * size, (i + 1) * size) });
      for (const [out, of] of [pair, pair.toReversed()]) fill(inner[out], trial, told, members, of);
    });
  }
  function fill(
    into: Map<number, InnerTold>,
    trial: number,
    told: Predictions,
    members: Int32Array,
    of: number,
  ): void {
    const whole = into.get(trial) ?? { predictions: emptyLike(told, folds.length), folds: 0 };
    into.set(trial, { ...whole, folds: whole.folds + 1 });
    const [from, to, width] = [numbersOf(told), numbersOf(whole.predictions), widthOf(told)];
    members.forEach((place, k) => {
      if (folds[place] !== of) return;
      for (let w = 0; w < width; w++) to[place * width + w] = from[k * width + w];
    });
  }
  const whole = [...collected].flatMap(([trial, predictions]) =>
    predictions && inner.every((told) => told.get(trial)?.folds === count - 1)
      ? [{ trial, predictions }]
      : [],
  );
  if (whole.length < 2) return null;
  const asked = searchMeasures[outcome.kind].find(({ id }) => id === measure)!;
  const found = nestedChoice(
    {
      outcome,
      folds,
      by,
      outer: whole.map(({ predictions }) => predictions),
      inner: inner.map((told) => whole.map(({ trial }) => told.get(trial)!.predictions)),
    },
    asked,
  );
  return found
    ? { ...found, chosen: found.chosen.map((place) => whole[place].trial), among: whole.length }
    : null;
}

/** What was told of all who are not in a fold, and of how many folds. */
interface InnerTold {
  predictions: Predictions;
  folds: number;
}
