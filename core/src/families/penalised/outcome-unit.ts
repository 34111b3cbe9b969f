import type { Outcome } from '../../outcome/index.ts';

/** What a number outcome is centred and divided by; 0 and 1 for the other kinds. */
export interface OutcomeUnit {
  mean: number;
  /** Divisor n. 1 where the outcome does not vary. */
  sd: number;
}

/** @param weights of patients; all 1 where absent */
export function outcomeUnit(outcome: Outcome, weights?: Float64Array): OutcomeUnit {
  if (outcome.kind !== 'number') return { mean: 0, sd: 1 };
  const { values } = outcome;
  const weightOf = (row: number) => weights?.[row] ?? 1;
  let [total, sum, squares] = [0, 0, 0];
  for (let row = 0; row < values.length; row++) {
    total += weightOf(row);
    sum += weightOf(row) * values[row];
  }
  const mean = sum / total;
  for (let row = 0; row < values.length; row++)
    squares += weightOf(row) * (values[row] - mean) ** 2;
  const sd = Math.sqrt(squares / total);
  // Rounding of a constant outcome is no spread.
  return { mean, sd: sd > 1e-12 * Math.abs(mean) ? sd : 1 };
}

/** A number outcome with mean 0 and SD 1; outcomes of the other kinds as they are. */
export const standardised = (outcome: Outcome, { mean, sd }: OutcomeUnit): Outcome =>
  outcome.kind === 'number'
    ? { ...outcome, values: outcome.values.map((value) => (value - mean) / sd) }
    : outcome;
