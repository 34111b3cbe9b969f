import { corrected } from '../balancing/index.ts';
import { dependsOnCosts, familyOf, FitObstacle, type Settings } from '../families/index.ts';
import { takeOutcome, type Outcome, type Predictions } from '../outcome/index.ts';
import { takeInputs } from '../inputs/index.ts';
import {
  applyPreparation,
  type FittedPreparation,
  type Inputs,
  type PredictorColumn,
} from '../preparation/index.ts';
import { groundOf, learnFrom, type FitPart, type FitRecipe, type Ground } from '../tuning/index.ts';
import { fittedTogether } from './along.ts';
import { judgeDevelopment, ofSome, type JudgedBy } from './judge.ts';

/** A part made ready for any number of settings of one family. */
export interface ReadyPart {
  ground: Ground;
  /** Those who are predicted, prepared. */
  met: Inputs;
  /** Of those who are learned from, some who are judged too. */
  judged: { inputs: Inputs; outcome: Outcome; rows: Int32Array };
}

/** Patients learned from who are judged at most: it is only set beside what is found out of fold. */
const mostJudged = 20_000;

/** How settings are fitted: a recipe without them; its costs enter only the fits that depend on them. */
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
  return {
    ground,
    met: applyPreparation(ground.preparation, ground.met, part.predictRows),
    judged: someOf(ground),
  };
}

function someOf({ inputs, learned, rows }: Ground): ReadyPart['judged'] {
  const { length } = rows;
  if (length <= mostJudged) return { inputs, outcome: learned, rows };
  const places = Int32Array.from({ length: mostJudged }, (_, i) =>
    Math.floor((i * length) / mostJudged),
  );
  return {
    inputs: takeInputs(inputs, places),
    outcome: takeOutcome(learned, places),
    rows: places.map((place) => rows[place]),
  };
}

/**
 * Fits settings that one fit gives, on one part.
 *
 * @param group settings that differ in the one along the family's way alone
 * @param by what calls are judged by; each patient's own costs are of every row of the table here
 * @returns of each of the settings, or a sentence why they cannot be fitted
 */
export function tryOnPart(
  { ground, met, judged }: ReadyPart,
  recipe: SearchRecipe,
  group: Settings[],
  by: JudgedBy,
): TriedOnPart[] | { problem: string } {
  const { description } = familyOf(recipe.family);
  const { fitted: settings, along } = fittedTogether(description, group);
  try {
    const { costs, ...plain } = recipe;
    const { fitted, correction } = learnFrom(
      ground,
      { ...plain, settings, ...(dependsOnCosts(description, settings) && { costs }) },
      along && { alongValues: along },
    );
    const say = (inputs: Inputs, value?: number) =>
      corrected(fitted.predict(inputs, value), correction);
    // All of the ones, then all of the others: a family may remember whom it was asked about last.
    const tried = group.map((_, place): TriedOnPart => ({
      predictions: say(met, along?.[place]),
    }));
    if (description.drawsPatients) return tried;
    const ownBy = ofSome(by, judged.rows);
    return tried.map(({ predictions }, place) => {
      const own = { outcome: judged.outcome, predictions: say(judged.inputs, along?.[place]) };
      return { predictions, development: judgeDevelopment(own, ownBy) };
    });
  } catch (error) {
    if (error instanceof FitObstacle) return { problem: error.message };
    throw error;
  }
}
