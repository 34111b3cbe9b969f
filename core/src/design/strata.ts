import { isKnown, type Outcome, type OutcomeKind } from '../outcome/index.ts';
import type { Table } from '../table/index.ts';
import { columnOf } from './columns.ts';
import { DesignError } from './design-error.ts';
import { orderByChance, type Patients } from './patients.ts';

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
    return fifthsOf(
      values,
      values.filter((_, row) => isKnown(outcome, row)),
    );
  },
};

/**
 * Strata of the outcome cut further by columns: by their levels, of numbers and dates by their
 * fifths; those for whom it is not known are apart too. Throws a DesignError for a text.
 *
 * @param strata of the outcome, -1 where it is not known
 */
export function strataWithin(
  table: Table,
  strata: ArrayLike<number>,
  columns: string[],
): ArrayLike<number> {
  let cut = Int32Array.from(strata);
  for (const name of columns) {
    const { column, label } = columnOf(table, name);
    if (column.type === 'text')
      throw new DesignError(`${label} is text: patients cannot be kept in balance by it.`);
    const codes = column.type === 'coded' ? column.codes : fifthsOf(column.values, column.values);
    const width = 2 + codes.reduce((most, code) => Math.max(most, code), -1);
    cut = cut.map((stratum, row) => (stratum < 0 ? -1 : stratum * width + codes[row] + 1));
  }
  return cut;
}

/** Which fifth each number is in; -1 where it is not known. */
function fifthsOf(values: Float64Array, some: Float64Array): Int32Array {
  const known = some.filter((value) => !Number.isNaN(value)).sort();
  const ends = Array.from(
    { length: groupsOfNumbers - 1 },
    (_, k) => known[Math.floor(((k + 1) * known.length) / groupsOfNumbers)],
  );
  return Int32Array.from(values, (value) =>
    Number.isNaN(value) ? -1 : ends.reduce((group, end) => group + Number(value >= end), 0),
  );
}

/**
 * Patients of these rows in seeded order, one list a stratum, the highest stratum first. A patient
 * with several rows counts in the highest stratum seen.
 */
export function groupByStratum(
  patients: Patients,
  strata: ArrayLike<number>,
  rows: Iterable<number>,
  seed: number,
  stream: string,
): number[][] {
  const { keys, ofRow } = patients;
  const stratumOf = new Int32Array(keys.length).fill(-1);
  for (const row of rows)
    if (strata[row] > stratumOf[ofRow[row]]) stratumOf[ofRow[row]] = strata[row];
  const groups: (number[] | undefined)[] = [];
  const order = orderByChance(patients, seed, stream);
  for (let i = 0; i < order.length; i++) {
    const stratum = stratumOf[order[i]];
    if (stratum >= 0) (groups[stratum] ??= []).push(order[i]);
  }
  return groups.reverse().filter((group) => group !== undefined);
}

/** Of each patient, how many rows of each stratum; patients whose outcome is not known have none. */
export function countByStratum(
  { keys, ofRow }: Pick<Patients, 'keys' | 'ofRow'>,
  strata: ArrayLike<number>,
  rows: Iterable<number>,
): Map<number, number>[] {
  const counts = keys.map(() => new Map<number, number>());
  for (const row of rows) {
    if (strata[row] < 0) continue;
    const own = counts[ofRow[row]];
    own.set(strata[row], (own.get(strata[row]) ?? 0) + 1);
  }
  return counts;
}
