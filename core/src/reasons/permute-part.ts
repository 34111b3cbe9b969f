import { caseScores, type CaseRule, type Outcome } from '../outcome/index.ts';
import type { FittedPreparation, PredictorColumn } from '../preparation/index.ts';
import { learnPart, type FitPart, type FitRecipe } from '../tuning/index.ts';
import { rowCountOf, takenRows, type Ask, type AskAltered } from './ask.ts';
import { askPermuted, type Moved, type Permuted } from './permuted.ts';

/** One fold: a model is learned without its patients, and asked about them. */
export interface PermuteTask {
  part: FitPart;
  predictors: PredictorColumn[];
  outcome: Outcome;
  recipe: FitRecipe;
  known?: FittedPreparation;
  /** What a case is. */
  cases: CaseRule;
  groups: Moved[];
  times: number;
}

/** What the model of a fold says of those whom it did not learn from, as they are and with values dealt anew. */
export function permutePart(task: PermuteTask): Permuted {
  const { part, predictors, outcome, recipe, known, cases, groups, times } = task;
  const { ground, predict, predictAltered } = learnPart(part, predictors, outcome, recipe, known);
  const own = ground.met.map((column) => takenRows(column, part.predictRows));
  const ask: Ask = (columns, rowCount) =>
    caseScores(
      predict(
        columns,
        Int32Array.from({ length: rowCount }, (_, i) => i),
      ),
      cases,
    );
  // What looks at no predictor says the same of all, and is asked about none.
  const rows = rowCountOf(own) || part.predictRows.length;
  if (own.length === 0) return sameForAll(ask([], rows), groups, times);
  const askAltered: AskAltered = (...asked) =>
    predictAltered(...asked).map((said) => caseScores(said, cases));
  return askPermuted(ask, own, groups, { times, seed: recipe.seed, askAltered });
}

const sameForAll = (plain: Float64Array, groups: Moved[], times: number): Permuted => ({
  plain,
  moved: groups.map(() => Array.from({ length: times }, () => plain)),
});
