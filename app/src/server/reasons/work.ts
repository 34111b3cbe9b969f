import { isCalledAt, type Outcome } from '@rook-scale/core/outcome';
import { scoreRows, type Model } from '@rook-scale/core/model';
import type { PredictorColumn } from '@rook-scale/core/preparation';
import {
  askAlteredOf,
  askOf,
  effectOf,
  inRules,
  onTheWhole,
  overDirections,
  overTwo,
  rowCountOf,
  strongestPairs,
  type Direction,
  type EffectShown,
  type InRules,
  type OnTheWhole,
  type Pair,
} from '@rook-scale/core/reasons';
import type { Facet, RegionsShown } from '@rook-scale/core/families';
import { modelOf, needsModel } from '../known-models.ts';
import { developmentColumns, type Asked } from './asked.ts';
import { askRemembering } from './own-said.ts';

// What threads do with a fit and its development patients. Nothing here reads or writes anything else.

export interface EffectTask extends Asked {
  name: string;
  /** Of the development patients: 0 or 1, or the number. */
  truth: Float64Array;
  kind: Outcome['kind'];
}

export function workOutEffect(task: EffectTask): EffectShown | typeof needsModel {
  const { cases, name, truth, kind } = task;
  return withModelOf(task, (model, columns) =>
    effectOf(
      ...([askRemembering(model, cases, columns), columns, name] as const),
      ...([truth, kind !== 'number', askAlteredOf(model, cases)] as const),
    ),
  );
}

export interface OverTwoTask extends Asked {
  /** Two predictors, or the words for the first two principal components. */
  over: { names: [string, string] } | { directions: [string, string] };
}

/** What is said over two predictors or directions; no map where one of them does not vary. */
export interface OverTwoFound {
  map?: RegionsShown;
  directions?: Direction[];
}

export function workOutOverTwo(task: OverTwoTask): OverTwoFound | typeof needsModel {
  const { over } = task;
  return withModelOf(task, (model, columns) => {
    const predict = (some: PredictorColumn[], count: number) =>
      scoreRows(model, some, count).predictions;
    if ('directions' in over) return overDirections(predict, columns, over.directions) ?? {};
    const map = overTwo(predict, columns, over.names);
    return map ? { map } : {};
  });
}

export interface PairsFound {
  pairs: Pair[];
  /** Patients by whom it is told. */
  patients: number;
}

export function workOutPairs(task: Asked): PairsFound | typeof needsModel {
  return withModelOf(task, (model, columns) =>
    strongestPairs(
      askOf(model, task.cases),
      columns,
      columns.map(({ name }) => name),
    ),
  );
}

export interface OnTheWholeTask extends Asked {
  /** What the model shows of itself. */
  facets: Facet[];
  seed: number;
}

export function workOutOnTheWhole(task: OnTheWholeTask): OnTheWhole | typeof needsModel {
  const { cases, facets, seed } = task;
  return withModelOf(task, (model, columns) => onTheWhole(model, cases, facets, columns, seed));
}

export interface RulesTask extends Asked {
  /** Of the development patients. */
  folds: Uint8Array;
  /** As it is read. */
  cutoff: number;
  leaves: number;
  seed: number;
}

export function workOutRules(task: RulesTask): InRules | typeof needsModel {
  const { cases, folds, cutoff, leaves, seed } = task;
  return withModelOf(task, (model, columns) => {
    const said = askOf(model, cases)(columns, rowCountOf(columns));
    return inRules(columns, said, folds, isCalledAt(cutoff, cases), leaves, seed);
  });
}

function withModelOf<Found>(
  task: Asked,
  find: (model: Model, development: PredictorColumn[]) => Found,
): Found | typeof needsModel {
  const model = modelOf(task);
  return model ? find(model, developmentColumns(task)) : needsModel;
}
