import { familyOf } from '@rook-scale/core/families';
import { casesOf, takeOutcome, type Outcome } from '@rook-scale/core/outcome';
import { choosePredictors, type PredictorColumn } from '@rook-scale/core/preparation';
import {
  halfSamples,
  ofSome,
  shareOf,
  type JudgedBy,
  type SearchRecipe,
} from '@rook-scale/core/search';
import { planParts, stepsFor, type FitPart } from '@rook-scale/core/tuning';
import { loadDevelopment, type Development } from '../../../server/development.ts';
import {
  judgedByInForce,
  pairsOfFolds,
  placesOf,
  recipeOf,
  type SearchRow,
} from '../../../server/searches/index.ts';
import { sharedIntegers } from '../../../server/shared-arrays.ts';
import { preparationsOf } from '../fit/preparations.ts';

/** What all rounds of a search stand on. */
export interface SearchGround extends Development {
  predictors: PredictorColumn[];
  recipe: SearchRecipe;
  /** Each patient's own costs are of every row of the table. */
  by: JudgedBy;
  judgedBy: string;
  /** How often folds were dealt. */
  times: number;
}

/** The patients of one round. */
export interface Round {
  parts: FitPart[];
  /** What they are judged by: outcome, folds and costs of those who are predicted, one time after the other. */
  outcome: Outcome;
  folds: Uint8Array;
  places: Record<string, Int32Array>;
  by: JudgedBy;
  /** What was learned for candidates, and may be used; absent where the round has not all patients. */
  preparations?: ReturnType<typeof preparationsOf>;
}

export async function loadGround(row: SearchRow): Promise<SearchGround> {
  const ground = await loadDevelopment({ ...row, settings: row.plan.fixed });
  const { by, key } = await judgedByInForce(row.studyId, ground);
  return {
    ...ground,
    predictors: choosePredictors(ground.table, ground.names),
    recipe: recipeOf(ground, row.family, row.plan),
    by,
    judgedBy: key,
    times: ground.folds.length / ground.developmentRows.length,
  };
}

export function roundOf(
  ground: SearchGround,
  share: number,
  { plan: { fewer }, nested }: Pick<SearchRow, 'plan' | 'nested'>,
): Round {
  const { developmentRows, folds, outcome, times, design, by, recipe } = ground;
  const { length } = developmentRows;
  const places = shareOf(strataOf(ground), share, design.seed);
  const rows = Int32Array.from(places, (place) => developmentRows[place]);
  const own = new Uint8Array(places.length * times);
  for (let time = 0; time < times; time++)
    places.forEach((place, i) => (own[time * places.length + i] = folds[time * length + place]));
  const predicted = Int32Array.from(own, (_, i) => rows[i % rows.length]);
  const { description } = familyOf(recipe.family);
  const isPrepared = !fewer && share === 1 && !description.blind && !description.asTheyAre;
  return {
    parts: [
      ...planParts(rows, own, new Int32Array(0)).filter(({ name }) => fewer || name !== 'all'),
      ...(fewer ? halfSamples(rows, outcome, fewer.halves, design.seed) : []),
      ...(nested ? pairsOf(rows, own) : []),
    ].map(({ name, learnRows, predictRows }) => ({
      name,
      learnRows: sharedIntegers(learnRows),
      predictRows: sharedIntegers(predictRows),
    })),
    outcome: takeOutcome(outcome, predicted),
    folds: own,
    places: placesOf(own),
    by: ofSome(by, predicted),
    ...(isPrepared && {
      preparations: preparationsOf(
        ground.divisionId,
        ground.cohort,
        design,
        ground.names,
        stepsFor(description, recipe),
      ),
    }),
  };
}

/** Fits that leave two folds out, and tell what they would have said of both. */
function pairsOf(rows: Int32Array, folds: Uint8Array): FitPart[] {
  const count = folds.reduce((most, fold) => Math.max(most, fold), 0) + 1;
  return pairsOfFolds(count).map(({ name, folds: pair }) => ({
    name,
    learnRows: rows.filter((_, i) => !pair.includes(folds[i])),
    predictRows: rows.filter((_, i) => pair.includes(folds[i])),
  }));
}

/** Patients with the rarer outcome; of a number a tenth of all. */
export function rarerOf({ outcome, developmentRows, by }: SearchGround): number {
  if (outcome.kind === 'number') return developmentRows.length / 10;
  const isCase = casesOf(takeOutcome(outcome, developmentRows), by.cases);
  const cases = isCase.reduce((sum, one) => sum + one, 0);
  return Math.min(cases, isCase.length - cases);
}

/** A share has its part of each fold and of each outcome. */
function strataOf({ outcome, developmentRows, folds, by }: SearchGround): Int32Array {
  const own = takeOutcome(outcome, developmentRows);
  const classes = own.kind === 'levels' ? own.values : casesOf(own, by.cases);
  return Int32Array.from(classes, (one, i) => folds[i] * 64 + Math.min(63, Math.max(0, one)));
}
