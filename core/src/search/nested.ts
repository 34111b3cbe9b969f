import { caseScores, type Outcome, type Predictions } from '../outcome/index.ts';
import { takeOutcome, takePredictions } from '../outcome/index.ts';
import { judgeFolds, ofSome, scoredOf, type JudgedBy } from './judge.ts';
import type { SearchMeasure } from './measures.ts';

/** What the choice comes to where whoever is predicted had no say in it. */
export interface Nested {
  value: number;
  /** Its standard error over the folds. */
  error?: number;
  /** Place of what was chosen in each fold. */
  chosen: number[];
}

export interface NestedTask {
  /** Of each prediction: what happened, and its fold. */
  outcome: Outcome;
  folds: ArrayLike<number>;
  by: JudgedBy;
  /** Out-of-fold predictions by each of the settings. */
  outer: Predictions[];
  /**
   * By fold that is left out, for each of the settings: predictions of all who are not in it, by fits that knew neither
   * that fold nor their own. Only those entries are read.
   */
  inner: Predictions[][];
}

/**
 * Nested cross-validation (Stone 1974, JRSS B 36:111-147; Varma & Simon 2006, BMC Bioinformatics 7:91): in each fold the
 * best of the settings is chosen, with its cutoff, by the other folds alone, and judged on the fold.
 */
export function nestedChoice(
  { outcome, folds, by, outer, inner }: NestedTask,
  measure: SearchMeasure,
): Nested | undefined {
  const chosen: number[] = [];
  const values: { value: number; patients: number }[] = [];
  for (const [fold, settings] of inner.entries()) {
    const others = placesWhere(folds, (one) => one !== fold);
    const own = placesWhere(folds, (one) => one === fold);
    const learned = takeOutcome(outcome, others);
    const theirs = Array.from(others, (place) => folds[place]);
    const byOthers = ofSome(by, others);
    const told = settings.map((predictions) => takePredictions(predictions, others));
    const figures = told.map(
      (predictions) =>
        judgeFolds({ outcome: learned, predictions }, theirs, byOthers)[measure.id]?.value,
    );
    const best = bestOf(figures, measure);
    if (best < 0) return undefined;
    chosen.push(best);
    const { cutoff } = scoredOf({ outcome: learned, predictions: told[best] }, byOthers);
    const judged = {
      outcome: takeOutcome(outcome, own),
      predictions: takePredictions(outer[best], own),
    };
    const scored = { ...scoredOf(judged, ofSome(by, own)), cutoff };
    const value = measure.of({ ...scored, scores: caseScores(judged.predictions, by.cases) });
    if (value !== undefined && Number.isFinite(value)) values.push({ value, patients: own.length });
  }
  if (values.length === 0) return undefined;
  const patients = values.reduce((sum, one) => sum + one.patients, 0);
  const value = values.reduce((sum, one) => sum + one.value * one.patients, 0) / patients;
  if (values.length < 2) return { value, chosen };
  const mean = values.reduce((sum, one) => sum + one.value, 0) / values.length;
  const squares = values.reduce((sum, one) => sum + (one.value - mean) ** 2, 0);
  return {
    value,
    error: Math.sqrt(squares / (values.length - 1) / values.length),
    chosen,
  };
}

function bestOf(figures: (number | undefined)[], { better }: SearchMeasure): number {
  const sign = better === 'higher' ? 1 : -1;
  return figures.reduce<number>(
    (best, figure, place) =>
      figure !== undefined && (best < 0 || sign * (figure - figures[best]!) > 0) ? place : best,
    -1,
  );
}

const placesWhere = (folds: ArrayLike<number>, isIn: (fold: number) => boolean): Int32Array =>
  Int32Array.from(Array.from({ length: folds.length }, (_, i) => i).filter((i) => isIn(folds[i])));
