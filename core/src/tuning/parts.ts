import {
  familyOf,
  settingsSchema,
  type Facet,
  type FitWarning,
  type Saved,
  type Settings,
} from '../families/index.ts';
import { areaUnderCurve } from '../measures/index.ts';
import {
  emptyLike,
  numbersOf,
  ofKind,
  predictionsOf,
  takeOutcome,
  widthOf,
  type Outcome,
  type Predictions,
} from '../outcome/index.ts';
import {
  applyPreparation,
  fitPreparation,
  learningInputs,
  withUsual,
  type ArrangedStep,
  type FittedPreparation,
  type PredictorColumn,
} from '../preparation/index.ts';

/** One independent piece of a candidate's fit: learn on some patients, predict others. */
export interface FitPart {
  /** 'fold 1' … 'fold 5', or 'all' for the model itself. */
  name: string;
  learnRows: Int32Array;
  predictRows: Int32Array;
}

/** How a candidate is fitted. */
export interface FitRecipe {
  family: string;
  settings: Settings;
  seed: number;
  /** Several levels: the one that the others are compared with. */
  reference?: string;
  /** The analyst's own steps, which come before those that every preparation ends with. */
  steps?: ArrangedStep[];
}

export interface FitPartResult {
  name: string;
  preparation: FittedPreparation;
  /** The fitted family as it is kept. */
  model: Saved;
  warnings: FitWarning[];
  /** What the model can show of itself; of 'all' only. */
  facets: Facet[];
  /** For `predictRows`, in their order. */
  predictions: Predictions;
  /** Of 'all' only: AUC in the very patients it was fitted on, to be set beside the out-of-fold one. */
  apparentArea?: number;
}

/**
 * The parts of a candidate's fit: one a fold, which learns on the other folds, and 'all', which
 * learns on every development patient and predicts those who were set aside.
 */
export function planParts(
  developmentRows: Int32Array,
  folds: Uint8Array,
  setAsideRows: Int32Array,
): FitPart[] {
  const count = folds.reduce((most, fold) => Math.max(most, fold), 0) + 1;
  const parts = Array.from({ length: count }, (_, fold): FitPart => ({
    name: `fold ${fold + 1}`,
    learnRows: developmentRows.filter((_, i) => folds[i] !== fold),
    predictRows: developmentRows.filter((_, i) => folds[i] === fold),
  }));
  return [...parts, { name: 'all', learnRows: developmentRows, predictRows: setAsideRows }];
}

/**
 * Fits preparation and family on the learning rows alone, then predicts.
 *
 * @param known the preparation, where it was learned already on the same rows of the same columns
 */
export function fitPart(
  part: FitPart,
  predictors: PredictorColumn[],
  outcome: Outcome,
  recipe: FitRecipe,
  known?: FittedPreparation,
): FitPartResult {
  const family = familyOf(recipe.family);
  const { settings: fields, blind, asTheyAre } = family.description;
  const settings = settingsSchema(fields).parse(recipe.settings);
  const used = blind ? [] : predictors;
  const steps = asTheyAre ? [] : withUsual(recipe.steps);
  const { preparation, inputs, kept } = known
    ? { preparation: known, ...learningInputs(known, used, part.learnRows) }
    : fitPreparation(used, part.learnRows, takeOutcome(outcome, part.learnRows), steps);
  const learnRows = kept ? kept.map((i) => part.learnRows[i]) : part.learnRows;
  const learned = takeOutcome(outcome, learnRows);
  const { fitted, warnings, describe } = family.fit(inputs, learned, settings, {
    seed: recipe.seed,
    reference: recipe.reference,
  });
  const whole = part.name === 'all';
  const described = whole ? describe() : { facets: [], warnings: [] };
  const apparent =
    whole && learned.kind === 'event'
      ? areaUnderCurve(
          predictionsOf(fitted.predict(inputs), 'event').risks,
          ofKind(learned, 'event').values,
        )?.value
      : undefined;
  return {
    name: part.name,
    preparation,
    model: fitted.save(),
    warnings: [...warnings, ...described.warnings],
    facets: described.facets,
    predictions: fitted.predict(applyPreparation(preparation, used, part.predictRows)),
    ...(apparent !== undefined && { apparentArea: apparent }),
  };
}

/** Out-of-fold predictions in the order of the development rows, from the results of the fold parts. */
export function collectOutOfFold(
  folds: Uint8Array,
  results: Pick<FitPartResult, 'name' | 'predictions'>[],
): Predictions {
  const parts = results.filter(({ name }) => name !== 'all');
  const first = parts[0].predictions;
  const collected = emptyLike(first, folds.length);
  const to = numbersOf(collected);
  const width = widthOf(first);
  for (const { name, predictions } of parts) {
    const fold = Number(name.slice('fold '.length)) - 1;
    const from = numbersOf(predictions);
    let next = 0;
    for (let i = 0; i < folds.length; i++)
      if (folds[i] === fold) for (let k = 0; k < width; k++) to[i * width + k] = from[next++];
  }
  return collected;
}
