import {
  blended,
  chosenFrom,
  familyOf,
  FitObstacle,
  leastSquaresWeights,
  saidBy,
  weightedSum,
  type BlendedPart,
  type BlendShown,
  type FitContext,
  type FitResult,
} from '../families/index.ts';
import { numbersOf, takeOutcome, type Outcome, type Predictions } from '../outcome/index.ts';
import type { PredictorColumn } from '../preparation/index.ts';
import { groundOf, learnFrom, type FitPart, type FitRecipe, type Ground } from './ground.ts';

type BlendRecipe = FitRecipe & Required<Pick<FitRecipe, 'parts'>>;
type PartRecipe = BlendRecipe['parts'][number];

/**
 * Fits each part of a blend on those who are learned from. Weights are learned inside of them: the folds
 * that they were dealt into are left out in turn, and the weights are those of the least squared error
 * in what the parts say of patients whom they did not learn from. So nobody whom the blend predicts
 * has a say in its weights.
 */
export function learnBlend(
  part: Pick<FitPart, 'learnRows' | 'learnFolds'>,
  ground: Ground,
  outcome: Outcome,
  recipe: BlendRecipe,
  told: Pick<FitContext, 'progress'> = {},
): FitResult & { correction: undefined } {
  const { parts } = recipe;
  const isLearned = recipe.settings.weights !== 'equal';
  const splits = isLearned ? innerSplits(part) : [];
  const steps = parts.length * (1 + splits.length);
  let done = 0;
  const fit = (one: PartRecipe, rows: Int32Array) => {
    const fitted = fitOne(one, ground.used, rows, outcome);
    told.progress?.(++done / steps);
    return fitted;
  };
  const inner = splits.map(({ learnRows, predictRows }) => ({
    truth: truthOf(takeOutcome(outcome, predictRows)),
    said: parts.map((one) => fit(one, learnRows).predict(predictRows)),
  }));
  const tried = isLearned ? weigh(inner) : undefined;
  const weights = tried?.weights ?? parts.map(() => 1 / parts.length);
  const whole = parts.map((one, k) => fit(one, part.learnRows).as(one.name, weights[k]));
  return {
    fitted: blended(
      whole.map(({ fitted }) => fitted),
      ground.used.map(({ name }) => name),
    ),
    correction: undefined,
    size: { trees: sumOf(whole, 'trees'), leaves: sumOf(whole, 'leaves') },
    warnings: whole.flatMap(({ fitted, warnings }) =>
      warnings.map((one) => ({ ...one, sentence: `${fitted.name}: ${one.sentence}` })),
    ),
    describe: () => ({
      facets: [{ kind: 'blend', value: shown(recipe, weights, outcome, tried) }],
      warnings: [],
    }),
  };
}

/** The folds of those learned from, each left out once. Throws where there is but one. */
function innerSplits({ learnRows, learnFolds }: Pick<FitPart, 'learnRows' | 'learnFolds'>) {
  if (!learnFolds) throw new Error('Nobody said which folds a blend can be learned by.');
  const folds = [...new Set(learnFolds)];
  if (folds.length < 2)
    throw new FitObstacle(
      'Weights are learned inside each fold, from the other folds: with only two folds there is but one left. Deal three folds or more in Design, or give all parts the same weight.',
    );
  return folds.map((fold) => ({
    learnRows: learnRows.filter((_, i) => learnFolds[i] !== fold),
    predictRows: learnRows.filter((_, i) => learnFolds[i] === fold),
  }));
}

/** A part fitted on these rows with all that belongs to it. */
function fitOne(
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
        reads: familyOf(recipe.family).reads?.(fitted.save()),
      } satisfies BlendedPart,
      warnings,
      size,
    }),
  };
}

interface Weighed {
  weights: number[];
  patients: number;
  /** Mean squared error of the blend, and of each part. */
  together: number;
  alone: number[];
}

function weigh(inner: { truth: Truth; said: Predictions[] }[]): Weighed {
  const [first] = inner;
  const truth = joined(inner.map((one) => one.truth.values));
  const said = first.said.map((_, k) => joined(inner.map((one) => numbersOf(one.said[k]))));
  const patients = truth.length / first.truth.width;
  const lossOf = (numbers: Float64Array) =>
    numbers.reduce((sum, one, i) => sum + (one - truth[i]) ** 2, 0) / patients;
  const weights = leastSquaresWeights(said, truth);
  const mixed = weightedSum(
    weights.map((weight, k) => ({ weight, predictions: { kind: 'number', values: said[k] } })),
  );
  return { weights, patients, together: lossOf(numbersOf(mixed)), alone: said.map(lossOf) };
}

interface Truth {
  values: Float64Array;
  width: number;
}

/** What should have been predicted: an event as 0 or 1, the level that it was as 1 among zeros, the number. */
function truthOf(outcome: Outcome): Truth {
  if (outcome.kind !== 'levels') return { values: Float64Array.from(outcome.values), width: 1 };
  const width = outcome.levels.length;
  const values = new Float64Array(outcome.values.length * width);
  outcome.values.forEach((code, i) => (values[i * width + code] = 1));
  return { values, width };
}

function joined(arrays: Float64Array[]): Float64Array {
  const all = new Float64Array(arrays.reduce((sum, { length }) => sum + length, 0));
  let end = 0;
  for (const one of arrays) {
    all.set(one, end);
    end += one.length;
  }
  return all;
}

function sumOf(parts: { size?: FitResult['size'] }[], of: 'trees' | 'leaves'): number | undefined {
  const known = parts.flatMap(({ size }) => size?.[of] ?? []);
  return known.length > 0 ? known.reduce((sum, one) => sum + one, 0) : undefined;
}

function shown(
  { parts, settings }: BlendRecipe,
  weights: number[],
  { kind }: Outcome,
  tried: Weighed | undefined,
): BlendShown {
  return {
    weights: settings.weights === 'equal' ? 'equal' : 'learned',
    loss: kind === 'number' ? 'mean squared error' : 'Brier score',
    ...(tried && { patients: tried.patients, together: tried.together }),
    parts: parts.map(({ name, predictors, recipe }, k) => ({
      name,
      family: recipe.family,
      weight: weights[k],
      predictors: predictors.length,
      ...(tried && { alone: tried.alone[k] }),
    })),
  };
}
