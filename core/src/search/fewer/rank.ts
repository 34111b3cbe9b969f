import { corrected } from '../../balancing/index.ts';
import { entryOrder, FitObstacle, type Settings } from '../../families/index.ts';
import { randomStream } from '../../numeric/index.ts';
import { takeOutcome, type Outcome } from '../../outcome/index.ts';
import {
  applyPreparation,
  readsColumn,
  type FittedPreparation,
  type Inputs,
  type PredictorColumn,
} from '../../preparation/index.ts';
import { groundOf, learnFrom, type FitPart } from '../../tuning/index.ts';
import type { SearchRecipe } from '../try.ts';
import { meanLoss } from './loss.ts';
import { fewerTried, type FewerPlan } from './plan.ts';
import { innerSplits, isHalf, type Split } from './splits.ts';

/** What a selection is made with. */
export interface FewerTask {
  predictors: PredictorColumn[];
  outcome: Outcome;
  recipe: SearchRecipe;
  settings: Settings;
  plan: FewerPlan;
}

/**
 * Ranks predictors by those who are learned from in this part alone: the one that stays longest first, the
 * pinned ones not among them. The order of the table has no say.
 *
 * @throws FitObstacle where the family cannot be fitted at all
 */
export function rankPredictors(part: FitPart, task: FewerTask): string[] {
  const { plan, outcome, recipe } = task;
  if (plan.way === 'path') return alongPath(part, task);
  const splits = isHalf(part) ? [part] : innerSplits(part.learnRows, outcome, recipe.seed);
  if (plan.way === 'forward') return forward(task, splits);
  return backward(task, plan.way === 'backward' ? mixedUp(splits) : leftOut(splits));
}

/** How bad the model is, for each predictor that may go, without what it says. */
type Without = (task: FewerTask, now: PredictorColumn[]) => Map<string, number>;

function backward(task: FewerTask, without: Without): string[] {
  const { predictors, plan } = task;
  const pinned = new Set(plan.pinned);
  const sizes = fewerTried(plan, namesOf(predictors)).map((one) => Number(one.predictors));
  const gone: string[] = [];
  let now = predictors;
  for (const size of sizes.slice(1)) {
    const losses = [...without(task, now)].filter(([name]) => !pinned.has(name)).sort(leastFirst);
    const go = losses.slice(0, now.length - size).map(([name]) => name);
    gone.push(...go);
    now = now.filter(({ name }) => !go.includes(name));
  }
  const left = namesOf(now)
    .filter((name) => !pinned.has(name))
    .sort();
  return [...left, ...gone.toReversed()];
}

function forward(task: FewerTask, splits: Split[]): string[] {
  const { predictors, plan } = task;
  const pinned = new Set(plan.pinned);
  const [, most] = fewerTried(plan, namesOf(predictors));
  const steps = Number(most.predictors) - pinned.size;
  const taken: string[] = [];
  while (taken.length < steps) {
    const open = predictors.filter(({ name }) => !pinned.has(name) && !taken.includes(name));
    const [best] = open
      .map(({ name }): [string, number] => {
        const own = predictors.filter(
          (one) => pinned.has(one.name) || taken.includes(one.name) || one.name === name,
        );
        return [name, lossWith(task, own, splits)];
      })
      .sort(leastFirst);
    taken.push(best[0]);
  }
  return taken;
}

const leastFirst = ([a, one]: [string, number], [b, other]: [string, number]): number =>
  one - other || (a < b ? -1 : 1);

const leftOut =
  (splits: Split[]): Without =>
  (task, now) =>
    new Map(
      now
        .filter(({ name }) => !task.plan.pinned.includes(name))
        .map(({ name }) => [
          name,
          lossWith(
            task,
            now.filter((one) => one.name !== name),
            splits,
          ),
        ]),
    );

/** Loss in those who are told by a model of these predictors; without any limit where it cannot be fitted. */
function lossWith(task: FewerTask, own: PredictorColumn[], splits: Split[]): number {
  try {
    return meanOf(
      splits.map((split) => {
        const { say, told } = learned(task, own, split);
        return [meanLoss(told, say()), told.values.length];
      }),
    );
  } catch (error) {
    if (error instanceof FitObstacle) return Infinity;
    throw error;
  }
}

/** Values that are told at least where they are mixed up, by doing it more than once where patients are few. */
const fewestMixed = 500;
const mostTimes = 5;

/** The predictor's values are dealt anew among those who are told (Breiman 2001, Machine Learning 45:5-32). */
const mixedUp =
  (splits: Split[]): Without =>
  (task, now) => {
    const sums = new Map<string, [number, number][]>();
    for (const split of splits) {
      const { say, told } = learned(task, now, split);
      const times = Math.min(mostTimes, Math.ceil(fewestMixed / split.predictRows.length));
      for (const { name } of now) {
        if (task.plan.pinned.includes(name)) continue;
        const draw = randomStream(task.recipe.seed, `mixed up: ${name}`);
        for (let time = 0; time < times; time++) {
          const loss = meanLoss(told, say({ name, from: mixed(split.predictRows.length, draw) }));
          sums.set(name, [...(sums.get(name) ?? []), [loss, told.values.length]]);
        }
      }
    }
    return new Map([...sums].map(([name, own]) => [name, meanOf(own)]));
  };

/** The model of these predictors, as what it says of those who are told. */
function learned(
  { outcome, recipe, settings }: FewerTask,
  own: PredictorColumn[],
  { learnRows, predictRows }: Split,
) {
  const whole = { ...recipe, settings };
  const ground = groundOf({ learnRows }, own, outcome, whole);
  const { fitted, correction } = learnFrom(ground, whole);
  const { preparation, met } = ground;
  const prepare = (columns: PredictorColumn[]) =>
    applyPreparation(preparation, columns, predictRows);
  const plain = prepare(met);
  const readBy = readers(preparation, recipe);
  const inputsWith = ({ name, from }: Mixed): Inputs => {
    const alone = readBy(name);
    // What is made of this predictor alone goes with it, and need not be prepared anew.
    if (alone)
      return {
        ...plain,
        columns: plain.columns.map((column, j) =>
          alone.has(j) ? Float64Array.from(from, (place) => column[place]) : column,
        ),
      };
    return prepare(
      met.map((column) => (column.name === name ? takenFrom(column, predictRows, from) : column)),
    );
  };
  return {
    say: (mixed?: Mixed) =>
      corrected(fitted.predict(mixed ? inputsWith(mixed) : plain), correction),
    told: takeOutcome(outcome, predictRows),
  };
}

/** A predictor whose values are those of other patients, by their places among those who are told. */
interface Mixed {
  name: string;
  from: Int32Array;
}

/**
 * The places of the inputs that are made of a predictor, where these are made of it alone: with the steps that
 * every preparation has, each column is prepared by itself, but for gaps that are marked together.
 */
function readers(
  { inputs }: FittedPreparation,
  { steps = [] }: SearchRecipe,
): (name: string) => Set<number> | undefined {
  return (name) => {
    if (steps.length > 0) return undefined;
    const places = inputs.flatMap((input, j) => (readsColumn(input, name) ? [j] : []));
    const isAlone = places.every((j) => (inputs[j].columns ?? [name]).every((one) => one === name));
    return isAlone ? new Set(places) : undefined;
  };
}

/** The column with the values of other rows in these. */
function takenFrom(column: PredictorColumn, rows: Int32Array, from: Int32Array): PredictorColumn {
  if (column.type === 'number') {
    const values = column.values.slice();
    rows.forEach((row, i) => (values[row] = column.values[rows[from[i]]]));
    return { ...column, values };
  }
  const codes = column.codes.slice();
  rows.forEach((row, i) => (codes[row] = column.codes[rows[from[i]]]));
  return { ...column, codes };
}

function mixed(count: number, draw: ReturnType<typeof randomStream>): Int32Array {
  const from = Int32Array.from({ length: count }, (_, i) => i);
  for (let i = count - 1; i > 0; i--) {
    const k = Math.floor((i + 1) * draw.uniform());
    [from[i], from[k]] = [from[k], from[i]];
  }
  return from;
}

/** A predictor comes in with the first of its inputs. */
function alongPath(part: FitPart, { predictors, outcome, recipe, plan }: FewerTask): string[] {
  const penalised = { ...recipe, family: 'penalised', settings: {} };
  const { inputs, learned: told, preparation } = groundOf(part, predictors, outcome, penalised);
  const places = entryOrder(inputs, told);
  const placeOf = (name: string) =>
    preparation.inputs.reduce(
      (first, input, j) => (readsColumn(input, name) ? Math.min(first, places[j]) : first),
      Infinity,
    );
  return namesOf(predictors)
    .filter((name) => !plan.pinned.includes(name))
    .map((name): [string, number] => [name, placeOf(name)])
    .sort(([a, one], [b, other]) => (one === other ? (a < b ? -1 : 1) : one - other))
    .map(([name]) => name);
}

const namesOf = (predictors: PredictorColumn[]): string[] => predictors.map(({ name }) => name);

function meanOf(parts: [mean: number, patients: number][]): number {
  const [sum, patients] = parts.reduce(
    ([sum, all], [mean, many]) => [sum + mean * many, all + many],
    [0, 0],
  );
  return sum / patients;
}
