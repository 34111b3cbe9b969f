import {
  familyOf,
  settingsSchema,
  type Facet,
  type FamilyDescription,
  type FitContext,
  type FitResult,
  type FitWarning,
  type Saved,
  type Settings,
} from '../families/index.ts';
import {
  balanceLearning,
  corrected,
  shiftOf,
  type Balancing,
  type Correction,
} from '../balancing/index.ts';
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
import { knownLevels } from './known-levels.ts';
import { regionMap } from './region-map.ts';
import {
  applyPreparation,
  fitPreparation,
  learningInputs,
  withGaps,
  withUsual,
  type ArrangedStep,
  type FittedPreparation,
  type Inputs,
  type PredictorColumn,
  type StepId,
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
  /** What errors cost, where they enter the fit: see `FitContext`. */
  costs?: number[][];
  /** The analyst's own steps, which come before those that every preparation ends with. */
  steps?: ArrangedStep[];
  /** How those who are learned from are balanced. */
  balancing?: Balancing;
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
  /** Shares of cases before and after balancing, where there was any. */
  correction?: Correction;
  /** Of 'all' only: AUC in the very patients it was fitted on, to be set beside the out-of-fold one. */
  apparentArea?: number;
}

/**
 * The parts of a candidate's fit: one a fold, which learns on the other folds, and 'all', which
 * learns on every development patient and predicts those who were set aside.
 *
 * @param folds of each development row; where they were dealt several times, those of each time
 *   behind one another, and numbered on
 */
export function planParts(
  developmentRows: Int32Array,
  folds: Uint8Array,
  setAsideRows: Int32Array,
): FitPart[] {
  const count = folds.reduce((most, fold) => Math.max(most, fold), 0) + 1;
  const { length } = developmentRows;
  const parts = Array.from({ length: count }, (_, fold): FitPart => {
    const from = length * Math.floor(folds.indexOf(fold) / length);
    const dealt = folds.subarray(from, from + length);
    return {
      name: `fold ${fold + 1}`,
      learnRows: developmentRows.filter((_, i) => dealt[i] !== fold),
      predictRows: developmentRows.filter((_, i) => dealt[i] === fold),
    };
  });
  return [...parts, { name: 'all', learnRows: developmentRows, predictRows: setAsideRows }];
}

/**
 * Fits preparation and family on the learning rows alone, then predicts.
 *
 * @param known the preparation, where it was learned already on the same rows of the same columns
 * @param told hears how far the fit is, from families that can tell: see `FitContext`
 */
export function fitPart(
  part: FitPart,
  predictors: PredictorColumn[],
  outcome: Outcome,
  recipe: FitRecipe,
  known?: FittedPreparation,
  told: Pick<FitContext, 'progress' | 'learning'> = {},
): FitPartResult {
  const { description } = familyOf(recipe.family);
  const ground = groundOf(part, predictors, outcome, recipe, known);
  const { preparation, inputs, learned, used, met } = ground;
  const { correction, fitted, warnings, describe } = learnFrom(ground, recipe, told);
  const whole = part.name === 'all';
  const described = whole ? describe() : { facets: [], warnings: [] };
  // Trees on samples know their own patients by heart, as they are meant to: it would tell nothing.
  const apparent =
    whole && learned.kind === 'event' && !description.drawsPatients
      ? areaUnderCurve(
          predictionsOf(fitted.predict(inputs), 'event').risks,
          ofKind(learned, 'event').values,
        )?.value
      : undefined;
  const predict = (columns: PredictorColumn[], rows: ArrayLike<number>) =>
    corrected(fitted.predict(applyPreparation(preparation, columns, rows)), correction);
  const regions =
    whole && used.length === 2 && !description.fixed
      ? regionMap(used, part.learnRows, (columns, count) =>
          predict(
            columns,
            Int32Array.from({ length: count }, (_, row) => row),
          ),
        )
      : undefined;
  return {
    name: part.name,
    preparation,
    model: fitted.save(),
    warnings: [
      ...warnings,
      ...described.warnings,
      ...(correction ? [balancedWarning(correction)] : []),
    ],
    ...(correction && { correction }),
    facets: [
      ...described.facets,
      ...(regions ? [{ kind: 'regions' as const, value: regions }] : []),
    ],
    predictions: predict(met, part.predictRows),
    ...(apparent !== undefined && { apparentArea: apparent }),
  };
}

/** All that a part's fit stands on, whatever the settings: the same for many fits of one family. */
export interface Ground {
  preparation: FittedPreparation;
  /** Those who are learned from and are not left out by a step. */
  rows: Int32Array;
  /** Theirs, prepared. */
  inputs: Inputs;
  learned: Outcome;
  /** The columns that the family looks at. */
  used: PredictorColumn[];
  /** The same as whoever learned on these rows knows them. */
  met: PredictorColumn[];
}

/** Learns the preparation of a part, or takes the known one, and prepares whoever is learned from. */
export function groundOf(
  { learnRows: rows }: FitPart,
  predictors: PredictorColumn[],
  outcome: Outcome,
  recipe: FitRecipe,
  known?: FittedPreparation,
): Ground {
  const { description } = familyOf(recipe.family);
  const used = description.blind ? [] : predictors;
  const { preparation, inputs, kept } = known
    ? { preparation: known, ...learningInputs(known, used, rows) }
    : fitPreparation(used, rows, takeOutcome(outcome, rows), stepsFor(description, recipe));
  const learnRows = kept ? kept.map((i) => rows[i]) : rows;
  return {
    preparation,
    rows: learnRows,
    inputs,
    learned: takeOutcome(outcome, learnRows),
    used,
    met: description.asTheyAre ? used : knownLevels(used, rows),
  };
}

/** Balances whoever is learned from, and fits the family. */
export function learnFrom(
  { inputs, learned }: Ground,
  recipe: FitRecipe,
  told: Pick<FitContext, 'progress' | 'learning' | 'alongValues'> = {},
): FitResult & { correction: Correction | undefined } {
  const family = familyOf(recipe.family);
  const { settings: fields, blind, fixed } = family.description;
  // What looks at no input, or learns nothing, has nothing to gain from it.
  const balancing = blind || fixed ? undefined : recipe.balancing;
  const settings = settingsSchema(fields).parse(recipe.settings);
  const balanced = balanceLearning(inputs, learned, balancing ?? { way: 'none' }, recipe.seed);
  const { correction } = balanced;
  const result = family.fit(balanced.inputs, balanced.outcome, settings, {
    seed: recipe.seed,
    reference: recipe.reference,
    ...(recipe.costs && { costs: recipe.costs }),
    ...(balanced.weights && { weights: balanced.weights }),
    ...told,
  });
  return { ...result, correction };
}

/** The steps that are done for a family: those that every preparation ends with finish what it cannot take. */
export function stepsFor(
  { asTheyAre, takesGaps }: Pick<FamilyDescription, 'asTheyAre' | 'takesGaps'>,
  { steps = [], balancing }: Pick<FitRecipe, 'steps' | 'balancing'>,
): (ArrangedStep | { step: StepId })[] {
  if (asTheyAre) return [];
  // Between two patients lies a third one only where all is known and a number.
  return takesGaps && balancing?.way !== 'cases in between' ? withGaps(steps) : withUsual(steps);
}

/** That risks are of the patients as they came, though what is shown of the fit is not. */
function balancedWarning(correction: Correction): FitWarning {
  const percent = (share: number) => `${Number((100 * share).toPrecision(3))}%`;
  return {
    code: 'balanced',
    sentence: `Learned from patients balanced to ${percent(correction.learned)} cases. Risks are brought back to the true ${percent(correction.share)}; the constant in the table is of the balanced patients (${shiftOf(correction).toFixed(3)} too high), and so are standard errors and p.`,
  };
}

/**
 * Out-of-fold predictions from the results of the fold parts: one an entry of `folds`, so in the order
 * of the development rows, and where they were dealt several times those of each time in turn.
 */
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
