import {
  blended,
  leastSquaresWeights,
  weightedSum,
  type BlendShown,
  type FitContext,
  type FitResult,
} from '../families/index.ts';
import { numbersOf, type Outcome, type Predictions } from '../outcome/index.ts';
import type { FitPart, Ground } from './ground.ts';
import {
  fitOne,
  innerSplits,
  joined,
  truthOf,
  type ComposedRecipe,
  type PartRecipe,
  type Truth,
} from './left-out.ts';

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
  recipe: ComposedRecipe,
  told: Pick<FitContext, 'progress'> = {},
): FitResult & { correction: undefined } {
  const { parts } = recipe;
  const isLearned = recipe.settings.weights !== 'equal';
  const splits = isLearned ? innerSplits(part, 'Weights are') : [];
  const steps = parts.length * (1 + splits.length);
  let done = 0;
  const fit = (one: PartRecipe, rows: Int32Array) => {
    const fitted = fitOne(one, ground.used, rows, outcome);
    told.progress?.(++done / steps);
    return fitted;
  };
  const inner = splits.map(({ learnRows, predictRows }) => ({
    truth: truthOf(outcome, predictRows),
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

function sumOf(parts: { size?: FitResult['size'] }[], of: 'trees' | 'leaves'): number | undefined {
  const known = parts.flatMap(({ size }) => size?.[of] ?? []);
  return known.length > 0 ? known.reduce((sum, one) => sum + one, 0) : undefined;
}

function shown(
  { parts, settings }: ComposedRecipe,
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
