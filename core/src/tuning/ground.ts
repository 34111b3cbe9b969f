import { clustersOf } from '../measures/index.ts';
import {
  familyOf,
  keptSettings,
  type FamilyDescription,
  type FitContext,
  type FitResult,
  type Settings,
} from '../families/index.ts';
import { balanceLearning, type Balancing, type Correction } from '../balancing/index.ts';
import { takeOutcome, type Outcome } from '../outcome/index.ts';
import {
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
import { knownLevels } from './known-levels.ts';

/** One independent piece of a candidate's fit: learn on some patients, predict others. */
export interface FitPart {
  /** 'fold 1' … 'fold 5', or 'all' for the model itself. */
  name: string;
  learnRows: Int32Array;
  predictRows: Int32Array;
  /** Of each of `learnRows` the fold that it was dealt into: what is tuned inside goes by it. */
  learnFolds?: Uint8Array;
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
  /** Cluster of every row of the cohort, where several rows are of one patient or group. */
  clusters?: Int32Array;
  /** Of a blend: what each part looks at of the predictors, and how it is fitted. */
  parts?: { name: string; predictors: string[]; recipe: FitRecipe }[];
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
  { learnRows: rows }: Pick<FitPart, 'learnRows'>,
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
  { inputs, learned, rows }: Ground,
  recipe: FitRecipe,
  told: Pick<FitContext, 'progress' | 'learning' | 'alongValues'> = {},
): FitResult & { correction: Correction | undefined } {
  const family = familyOf(recipe.family);
  const { settings: fields, blind, fixed } = family.description;
  // What looks at no input, or learns nothing, has nothing to gain from it.
  const balancing = blind || fixed ? undefined : recipe.balancing;
  const settings = keptSettings(fields, recipe.settings);
  const balanced = balanceLearning(inputs, learned, balancing ?? { way: 'none' }, recipe.seed);
  const { correction } = balanced;
  // Rows that are drawn or made up are nobody's.
  const clusters =
    balanced.inputs === inputs && recipe.clusters
      ? clustersOf(Int32Array.from(rows, (row) => recipe.clusters![row]))
      : undefined;
  const result = family.fit(balanced.inputs, balanced.outcome, settings, {
    seed: recipe.seed,
    reference: recipe.reference,
    ...(recipe.costs && { costs: recipe.costs }),
    ...(balanced.weights && { weights: balanced.weights }),
    ...(clusters && { clusters }),
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
