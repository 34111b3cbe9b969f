// What threads do for a search: nothing is read or written here.
import type { Outcome, Predictions } from '@rook-scale/core/outcome';
import {
  correctForChoice,
  judgeFolds,
  scoredOf,
  searchMeasures,
  type Corrected,
  type JudgedBy,
  type TriedFigures,
} from '@rook-scale/core/search';
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
