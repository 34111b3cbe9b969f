// What threads do for a search: nothing is read or written here.
import type { Settings } from '@rook-scale/core/families';
import type { Outcome, Predictions } from '@rook-scale/core/outcome';
import type { PredictorColumn } from '@rook-scale/core/preparation';
import {
  correctForChoice,
  judgeFolds,
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
import { collectTrials, type KeptPiece } from './collect.ts';

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
