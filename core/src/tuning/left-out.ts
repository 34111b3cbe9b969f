import { chosenFrom, familyOf, FitObstacle, saidBy, type BlendedPart } from '../families/index.ts';
import { takeOutcome, type Outcome, type Predictions } from '../outcome/index.ts';
import type { PredictorColumn } from '../preparation/index.ts';
import { groundOf, learnFrom, type FitPart, type FitRecipe } from './ground.ts';

/** What is made of others: what each of these looks at, and how it is fitted. */
export type ComposedRecipe = FitRecipe & Required<Pick<FitRecipe, 'parts'>>;
export type PartRecipe = ComposedRecipe['parts'][number];

/**
 * The folds of those learned from, each left out once: what parts say there is learned about without
 * a part that has seen them.
 *
 * @throws FitObstacle where there is but one
 */
export function innerSplits(
  { learnRows, learnFolds }: Pick<FitPart, 'learnRows' | 'learnFolds'>,
  what: string,
) {
  if (!learnFolds) throw new Error('Nobody said which folds can be left out.');
  const folds = [...new Set(learnFolds)];
  if (folds.length < 2)
    throw new FitObstacle(
      `${what} learned inside each fold, from the other folds: with only two folds there is but one left. Deal three folds or more in Design.`,
    );
  return folds.map((fold) => ({
    learnRows: learnRows.filter((_, i) => learnFolds[i] !== fold),
    predictRows: learnRows.filter((_, i) => learnFolds[i] === fold),
  }));
}

/** A part fitted on these rows with all that belongs to it. */
export function fitOne(
  { predictors, recipe }: PartRecipe,
  columns: PredictorColumn[],
  rows: Int32Array,
  outcome: Outcome,
) {
  const ground = groundOf({ learnRows: rows }, chosenFrom(columns, predictors), outcome, recipe);
  const { fitted, correction, warnings, size } = learnFrom(ground, recipe);
  const { preparation } = ground;
  const part = { fitted, preparation, ...(correction && { correction }) };
  return {
    predict: (predictRows: Int32Array): Predictions => saidBy(part, ground.met, predictRows),
    as: (name: string, weight: number) => ({
      fitted: {
        ...part,
        ...{ name, weight, predictors, family: recipe.family },
        reads: familyOf(recipe.family).reads?.(fitted.save(), ground.inputs.names),
      } satisfies BlendedPart,
      warnings,
      size,
    }),
  };
}

export interface Truth {
  values: Float64Array;
  width: number;
}

/** What should have been predicted of these: an event as 0 or 1, the level that it was as 1 among zeros, the number. */
export function truthOf(whole: Outcome, rows: Int32Array): Truth {
  const outcome = takeOutcome(whole, rows);
  if (outcome.kind !== 'levels') return { values: Float64Array.from(outcome.values), width: 1 };
  const width = outcome.levels.length;
  const values = new Float64Array(outcome.values.length * width);
  outcome.values.forEach((code, i) => (values[i * width + code] = 1));
  return { values, width };
}

/** One behind the other. */
export function joined(arrays: Float64Array[]): Float64Array {
  const all = new Float64Array(arrays.reduce((sum, { length }) => sum + length, 0));
  let end = 0;
  for (const one of arrays) {
    all.set(one, end);
    end += one.length;
  }
  return all;
}
