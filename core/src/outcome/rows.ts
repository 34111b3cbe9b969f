import type { Outcome, OutcomeKind, Predictions } from './kinds.ts';

/** The outcome of these rows, in their order. */
export function takeOutcome<K extends OutcomeKind>(
  outcome: Outcome<K>,
  rows: ArrayLike<number>,
): Outcome<K>;
export function takeOutcome(outcome: Outcome, rows: ArrayLike<number>): Outcome {
  return { ...outcome, values: pick(outcome.values, rows) } as Outcome;
}

/** The predictions of these rows, in their order. */
export function takePredictions(predictions: Predictions, rows: ArrayLike<number>): Predictions {
  const from = numbersOf(predictions);
  const width = widthOf(predictions);
  const taken = new Float64Array(rows.length * width);
  for (let i = 0; i < rows.length; i++)
    taken.set(from.subarray(rows[i] * width, (rows[i] + 1) * width), i * width);
  return withNumbers(predictions, taken);
}

/** Whether the outcome of this row is known. */
export function isKnown({ values }: Outcome, row: number): boolean {
  // Codes below 0 are not known, numbers are any that is not NaN.
  return values instanceof Float64Array ? !Number.isNaN(values[row]) : values[row] >= 0;
}

/** The numbers of predictions as they lie in memory. */
export function numbersOf(predictions: Predictions): Float64Array {
  return numbers[predictions.kind](predictions as never);
}

const numbers: { [K in OutcomeKind]: (predictions: Predictions<K>) => Float64Array } = {
  event: ({ risks }) => risks,
  levels: ({ shares }) => shares,
  number: ({ values }) => values,
};

/** Predictions of the same kind with these numbers instead. */
export function withNumbers(predictions: Predictions, given: Float64Array): Predictions {
  return made[predictions.kind](given, predictions as never);
}

const made: {
  [K in OutcomeKind]: (given: Float64Array, like: Predictions<K>) => Predictions<K>;
} = {
  event: (risks) => ({ kind: 'event', risks }),
  levels: (shares, { levels }) => ({ kind: 'levels', levels, shares }),
  number: (values) => ({ kind: 'number', values }),
};

/** Room for the predictions of so many patients. */
export const emptyLike = (predictions: Predictions, patients: number): Predictions =>
  withNumbers(predictions, new Float64Array(patients * widthOf(predictions)));

/** How many patients predictions are about. */
export const countOf = (predictions: Predictions): number =>
  numbersOf(predictions).length / widthOf(predictions);

/** Numbers a patient in predictions. */
export const widthOf = (predictions: Predictions) =>
  predictions.kind === 'levels' ? predictions.levels.length : 1;

function pick(values: Outcome['values'], rows: ArrayLike<number>) {
  const Kind = values.constructor as new (length: number) => Outcome['values'];
  const picked = new Kind(rows.length);
  for (let i = 0; i < rows.length; i++) picked[i] = values[rows[i]];
  return picked;
}
