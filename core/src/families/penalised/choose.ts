import { softplus } from '../../numeric/index.ts';
import { takeInputs, type Inputs } from '../../inputs/index.ts';
import { takeOutcome, type Outcome, type OutcomeKind } from '../../outcome/index.ts';
import { dealtBy } from '../shared/index.ts';
import { linearOf, type Weights } from './linear.ts';
import { followPath, type PathTask } from './path.ts';

/** Loss at each strength in patients of inner folds, a patient. */
export interface TriedStrengths {
  mean: Float64Array;
  /** Of the mean, by how the folds differ. */
  error: Float64Array;
  /** Places of the least loss, and of the strongest within one standard error of it. */
  best: number;
  simplest: number;
}

/** Inner folds, common practice; where patients are many, half as many say as much. */
const foldsFor = (patients: number): number => (patients < 50_000 ? 10 : 5);
/** Fewer patients are not dealt. */
export const fewest = 20;

/** Follows the path on the patients of all inner folds but one, for each of them. */
export function tryStrengths(
  task: PathTask,
  strengths: number[],
  seed: number,
  progress?: (share: number) => void,
): TriedStrengths {
  const { inputs, outcome, weights } = task;
  const folds = foldsFor(inputs.rowCount);
  const dealt = dealtBy(inputs, outcome, folds, seed);
  const sums: Float64Array[] = [];
  const held: number[] = [];
  for (let fold = 0; fold < folds; fold++) {
    const [own, others] = partedBy(dealt, fold);
    if (own.length === 0) continue;
    const points = followPath(
      {
        ...task,
        inputs: takeInputs(inputs, others),
        outcome: takeOutcome(outcome, others),
        ...(weights && { weights: take(weights, others) }),
      },
      strengths,
      true,
      (share) => progress?.((fold + share) / folds),
    );
    const theirs = weights ? take(weights, own) : new Float64Array(own.length).fill(1);
    const [some, known] = [takeInputs(inputs, own), takeOutcome(outcome, own)];
    sums.push(Float64Array.from(points, (point) => lossSum(point, some, known, theirs)));
    held.push(theirs.reduce((sum, one) => sum + one, 0));
  }
  const total = held.reduce((sum, one) => sum + one, 0);
  const at = (place: number) => sums.reduce((sum, own) => sum + own[place], 0) / total;
  const mean = Float64Array.from(strengths, (_, place) => at(place));
  const error = mean.map((middle, place) => {
    const spread = sums.reduce(
      (sum, own, fold) => sum + held[fold] * (own[place] / held[fold] - middle) ** 2,
      0,
    );
    return Math.sqrt(spread / total / Math.max(1, sums.length - 1));
  });
  const least = Math.min(...mean);
  const best = mean.findIndex((loss) => loss <= least + 1e-9 * Math.abs(least));
  const simplest = mean.findIndex((loss) => loss <= mean[best] + error[best]);
  return { mean, error, best, simplest };
}

/** Log loss, or squared error, of all patients together. */
export function lossSum(
  point: Weights,
  inputs: Inputs,
  outcome: Outcome,
  weights: Float64Array,
): number {
  const linear = linearOf(point, inputs);
  const lossOf = lossesOf[outcome.kind](outcome as never, linear);
  let sum = 0;
  for (let row = 0; row < inputs.rowCount; row++) sum += weights[row] * lossOf(row);
  return sum;
}

const lossesOf: {
  [K in OutcomeKind]: (outcome: Outcome<K>, linear: Float64Array[]) => (row: number) => number;
} = {
  event:
    ({ values }, [linear]) =>
    (row) =>
      softplus(values[row] === 1 ? -linear[row] : linear[row]),
  number:
    ({ values }, [linear]) =>
    (row) =>
      (values[row] - linear[row]) ** 2,
  levels:
    ({ values }, linear) =>
    (row) => {
      const most = linear.reduce((most, own) => Math.max(most, own[row]), -Infinity);
      const total = linear.reduce((sum, own) => sum + Math.exp(own[row] - most), 0);
      return most + Math.log(total) - linear[values[row]][row];
    },
};

function partedBy(dealt: Uint8Array, fold: number): [own: Int32Array, others: Int32Array] {
  const rows = Int32Array.from(dealt.keys());
  return [rows.filter((row) => dealt[row] === fold), rows.filter((row) => dealt[row] !== fold)];
}

const take = (values: Float64Array, rows: Int32Array): Float64Array =>
  Float64Array.from(rows, (row) => values[row]);
