import type { Settings } from '../../families/index.ts';
import type { Outcome } from '../../outcome/index.ts';
import type { PredictorColumn } from '../../preparation/index.ts';
import type { FitPart } from '../../tuning/index.ts';
import type { JudgedBy } from '../judge.ts';
import { shareOf } from '../race.ts';
import { readyPart, tryOnPart, type SearchRecipe, type TriedOnPart } from '../try.ts';

export interface GrowingTask {
  predictors: PredictorColumn[];
  outcome: Outcome;
  recipe: SearchRecipe;
  settings: Settings;
  /** Shares of those who are learned from, each a part of the next. */
  shares: number[];
}

/** Fits on growing shares of those who are learned from, each with its part of every outcome; always the same are predicted. */
export function tryGrowing(
  part: FitPart,
  { predictors, outcome, recipe, settings, shares }: GrowingTask,
  by: JudgedBy,
): (TriedOnPart | { problem: string })[] {
  const { learnRows } = part;
  const strata = Int32Array.from(learnRows, (row) =>
    outcome.kind === 'number' ? 0 : outcome.values[row],
  );
  return shares.map((share) => {
    const places = shareOf(strata, share, recipe.seed);
    const some = { ...part, learnRows: Int32Array.from(places, (place) => learnRows[place]) };
    const found = tryOnPart(readyPart(some, predictors, outcome, recipe), recipe, [settings], by);
    return 'problem' in found ? found : found[0];
  });
}
