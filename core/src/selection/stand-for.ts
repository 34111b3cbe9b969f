import { display, type Column, type DictionaryEntry } from '../table/index.ts';

/** Numbers of patients that cannot be counted with, in a sentence. */
export class CountError extends Error {}

/** More patients than this are no table that somebody counted by hand. */
export const mostPatients = 5_000_000;

/**
 * Each of these rows as often as it has patients, in their order: from there on every patient is a
 * row, so that nothing else need know of groups. Rows whose number is not known go, and are counted.
 * Throws a CountError where a number is no number of patients.
 */
export function standFor(
  rows: Int32Array,
  entry: DictionaryEntry,
  column: Column,
): { rows: Int32Array; unknown: number } {
  if (column.type !== 'number')
    throw new CountError(
      `${display(entry)} is not read as a number, so it cannot be the number of patients.`,
    );
  let total = 0;
  let unknown = 0;
  for (const row of rows) {
    const count = column.values[row];
    if (Number.isNaN(count)) unknown++;
    else if (count < 0 || !Number.isInteger(count))
      throw new CountError(
        `${display(entry)} has ${count} in row ${row + 1}: a number of patients is whole, and not below 0.`,
      );
    else total += count;
  }
  if (total > mostPatients)
    throw new CountError(
      `${display(entry)} adds up to ${total.toLocaleString('en')} patients; at most ${mostPatients.toLocaleString('en')} can be counted so.`,
    );
  const patients = new Int32Array(total);
  let next = 0;
  for (const row of rows) {
    const count = column.values[row];
    if (count > 0) patients.fill(row, next, (next += count));
  }
  return { rows: patients, unknown };
}
