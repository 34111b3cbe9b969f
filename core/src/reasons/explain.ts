import type { Model } from '../model/index.ts';
import type { CaseRule } from '../outcome/index.ts';
import type { PredictorColumn } from '../preparation/index.ts';
import { addingUp, type AddedUp } from './added-up.ts';
import { everyFew, rowCountOf, takenRows } from './ask.ts';
import { askOf } from './ask-model.ts';
import { comparedWith, contributionsOf, mostExact } from './contributions.ts';

/** What each predictor adds to what is said of some patients. */
export interface Explained {
  /** Whether it adds up to what is said, or to the log-odds of the risk. */
  scale: AddedUp['scale'];
  /** Whether by a sum of the model's own, along the paths of its trees, by all sets of predictors, or drawn. */
  way: 'own sum' | 'all sets' | 'drawn';
  /** Patients with whom each is compared. */
  compared: number;
  names: string[];
  patients: ExplainedPatient[];
}

export interface ExplainedPatient {
  /** What it begins with, before any predictor adds. */
  base: number;
  /** By predictor. */
  added: number[];
  /** Standard errors of the drawing, where it was drawn. */
  errors?: number[];
}

/** Patients who are compared with where not all are, and random orders of predictors for each patient. */
const atMost = { compared: 200, orders: 200 };
/** Sampling ends at this standard error of every contribution, in SDs of the predictions of those compared with. */
const exactness = 0.02;

/**
 * Contributions by the method that suits the model: exact where it is a sum of predictors or of trees
 * (`addedUp`), else Shapley values of the prediction (`contributionsOf`). A patient's contributions are the same
 * whoever else is asked about.
 *
 * @param development training patients, in the same columns
 */
export function explain(
  model: Model,
  cases: CaseRule,
  patients: PredictorColumn[],
  development: PredictorColumn[],
  seed: number,
): Explained {
  return explainer(model, cases, development, seed)(patients);
}

/** The same for patients who come in parts: what does not depend on them is worked out once. */
export function explainer(
  model: Model,
  cases: CaseRule,
  development: PredictorColumn[],
  seed: number,
): (patients: PredictorColumn[]) => Explained {
  const addUp = addingUp(model, development, countedIn(model, cases));
  let byDrawing: ReturnType<typeof drawing> | undefined;
  return (patients) => {
    const sum = addUp?.(patients);
    if (!sum) {
      byDrawing ??= drawing(model, cases, development, seed);
      return byDrawing(patients);
    }
    return {
      ...{ scale: sum.scale, way: 'own sum', names: patients.map(({ name }) => name) },
      compared: rowCountOf(development),
      patients: Array.from({ length: rowCountOf(patients) }, (_, i) => ({
        base: sum.base,
        added: sum.values.map((own) => own[i]),
      })),
    };
  };
}

/** Shapley values of the prediction, by all sets of predictors or by random orders. */
function drawing(
  model: Model,
  cases: CaseRule,
  development: PredictorColumn[],
  seed: number,
): (patients: PredictorColumn[]) => Explained {
  const length = rowCountOf(development);
  const compared = Math.min(length, atMost.compared);
  const others = comparedWith(development, everyFew(length, compared));
  const ask = askOf(model, cases);
  const until = exactness * deviationOf(ask(others, compared));
  return (patients) => {
    const names = patients.map(({ name }) => name);
    return {
      ...{ scale: 'said', way: names.length <= mostExact ? 'all sets' : 'drawn', compared, names },
      patients: Array.from({ length: rowCountOf(patients) }, (_, i): ExplainedPatient => {
        const own = patients.map((column) => takenRows(column, [i]));
        const { base, contributions } = contributionsOf(ask, own, others, {
          orders: atMost.orders,
          seed,
          until,
        });
        const errors = contributions.map(({ standardError }) => standardError);
        return {
          base,
          added: contributions.map(({ value }) => value),
          ...(errors.every((one) => one !== undefined) && { errors }),
        };
      }),
    };
  };
}

function deviationOf(values: Float64Array): number {
  const mean = values.reduce((sum, one) => sum + one, 0) / values.length;
  return Math.sqrt(values.reduce((sum, one) => sum + (one - mean) ** 2, 0) / values.length);
}

/**
 * Whether the strongest contributions, and their order, would be the same in another sample: each is further
 * from the next than chance explains (two standard errors of the difference).
 */
export function isOrderCertain({ added, errors }: ExplainedPatient, count: number): boolean {
  if (!errors) return true;
  const order = [...added.keys()].sort((a, b) => Math.abs(added[b]) - Math.abs(added[a]));
  return order.slice(0, count).every((j, place) => {
    const next = order[place + 1] as number | undefined;
    if (next === undefined) return true;
    const apart = Math.abs(added[j]) - Math.abs(added[next]);
    return apart > 2 * Math.hypot(errors[j], errors[next]);
  });
}

/** The predictors that add most for a patient, whichever way, strongest first; none that add nothing. */
export function strongest(
  { names }: Explained,
  { added }: ExplainedPatient,
  count: number,
): { name: string; value: number }[] {
  return names
    .map((name, j) => ({ name, value: added[j] }))
    .filter(({ value }) => value !== 0)
    .sort((a, b) => Math.abs(b.value) - Math.abs(a.value))
    .slice(0, count);
}

function countedIn({ outcome }: Model, cases: CaseRule): number[] | undefined {
  if (cases.kind !== 'levels') return undefined;
  return cases.levels.map((level) => outcome.levels!.indexOf(level));
}
