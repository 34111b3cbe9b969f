import { ascendingOrder, orderingNumbers } from '../numeric/index.ts';
import { isKnown, type Outcome, type OutcomeKind } from '../outcome/index.ts';
import type { Patients } from './patients.ts';

/** By how many groups a number is kept apart. */
const groupsOfNumbers = 5;

/** What split and folds keep in balance: the outcome, of a number its fifths; -1 where not known. */
export function strataOf(outcome: Outcome): ArrayLike<number> {
  return strata[outcome.kind](outcome as never);
}

const strata: { [K in OutcomeKind]: (outcome: Outcome<K>) => ArrayLike<number> } = {
  event: ({ values }) => values,
  levels: ({ values }) => values,
  number(outcome) {
    const { values } = outcome;
    const known = values.filter((_, row) => isKnown(outcome, row)).sort();
    const ends = Array.from(
      { length: groupsOfNumbers - 1 },
      (_, k) => known[Math.floor(((k + 1) * known.length) / groupsOfNumbers)],
    );
    return Int8Array.from(values, (value) =>
      Number.isNaN(value) ? -1 : ends.reduce((group, end) => group + Number(value >= end), 0),
    );
  },
};

/**
 * Patients of these rows in seeded order, one list a stratum, the highest stratum first. A patient
 * with several rows counts in the highest stratum seen.
 */
export function groupByStratum(
  { keys, ofRow }: Patients,
  strata: ArrayLike<number>,
  rows: Iterable<number>,
  seed: number,
  stream: string,
): number[][] {
  const stratumOf = new Int32Array(keys.length).fill(-1);
  for (const row of rows)
    if (strata[row] > stratumOf[ofRow[row]]) stratumOf[ofRow[row]] = strata[row];
  const orderOf = orderingNumbers(seed, stream);
  const order = new Float64Array(keys.length).fill(NaN);
  for (let patient = 0; patient < keys.length; patient++)
    if (stratumOf[patient] >= 0) order[patient] = orderOf(keys[patient]);
  const groups = new Map<number, number[]>();
  for (const patient of ascendingOrder(order)) {
    const group = groups.get(stratumOf[patient]);
    if (group) group.push(patient);
    else groups.set(stratumOf[patient], [patient]);
  }
  return [...groups.entries()].sort(([a], [b]) => b - a).map(([, group]) => group);
}
