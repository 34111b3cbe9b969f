import { corrected } from '../balancing/index.ts';
import { familyOf, FitObstacle, type Settings } from '../families/index.ts';
import type { Judged } from '../measures/index.ts';
import { type Outcome, type Predictions } from '../outcome/index.ts';
import {
  applyPreparation,
  type FittedPreparation,
  type Inputs,
  type PredictorColumn,
} from '../preparation/index.ts';
import { groundOf, learnFrom, type FitPart, type FitRecipe, type Ground } from '../tuning/index.ts';
import { fittedTogether } from './along.ts';
import { judgeDevelopment, type JudgedBy } from './judge.ts';

/** A part made ready for any number of settings of one family. */
export interface ReadyPart {
  ground: Ground;
  /** Those who are predicted, prepared. */
  met: Inputs;
}

/** How settings are fitted: a recipe without them. */
export type SearchRecipe = Omit<FitRecipe, 'settings'>;

/** What one of the settings gave on one part. */
export interface TriedOnPart {
  /** Of those who are predicted, in their order. */
  predictions: Predictions;
  /** Measures in those it learned from; absent where that tells nothing. */
  development?: Record<string, number>;
}

/** Prepares whoever is learned from and whoever is predicted, once for all settings. */
export function readyPart(
  part: FitPart,
  predictors: PredictorColumn[],
  outcome: Outcome,
  recipe: SearchRecipe,
  known?: FittedPreparation,
): ReadyPart {
  const ground = groundOf(part, predictors, outcome, { ...recipe, settings: {} }, known);
  return { ground, met: applyPreparation(ground.preparation, ground.met, part.predictRows) };
}

/**
 * Fits settings that one fit gives, on one part.
 *
 * @param group settings that differ in the one along the family's way alone
 * @param by what calls are judged by; each patient's own costs are of every row of the table here
 * @returns of each of the settings, or a sentence why they cannot be fitted
 */
export function tryOnPart(
  { ground, met }: ReadyPart,
  recipe: SearchRecipe,
  group: Settings[],
  by: JudgedBy,
): TriedOnPart[] | { problem: string } {
  const { description } = familyOf(recipe.family);
  const { fitted: settings, along } = fittedTogether(description, group);
  try {
    const { fitted, correction } = learnFrom(
      ground,
      { ...recipe, settings },
      along && { alongValues: along },
    );
    const say = (inputs: Inputs, value?: number) =>
      corrected(fitted.predict(inputs, value), correction);
    return group.map((_, place): TriedOnPart => {
      const predictions = say(met, along?.[place]);
      if (description.drawsPatients) return { predictions };
      const own = { outcome: ground.learned, predictions: say(ground.inputs, along?.[place]) };
      return { predictions, development: judgeDevelopment(own as Judged, ofRows(by, ground.rows)) };
    });
  } catch (error) {
    if (error instanceof FitObstacle) return { problem: error.message };
    throw error;
  }
}

function ofRows({ cases, costs }: JudgedBy, rows: Int32Array): JudgedBy {
  if (!costs.own) return { cases, costs };
  const { missed, falseAlarm } = costs.own;
  const pick = (values: Float64Array) => Float64Array.from(rows, (row) => values[row]);
  return {
    cases,
    costs: { ...costs, own: { missed: pick(missed), falseAlarm: pick(falseAlarm) } },
  };
}
