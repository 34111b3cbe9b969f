import { display, type CodedColumn, type Column, type Table } from '../table/index.ts';
import { OutcomeError, type OutcomeChoice } from './choice.ts';
import type { Outcome, OutcomeKind } from './kinds.ts';

/**
 * The outcome of every row of a table.
 *
 * The reference level, where one is chosen, stays where it stands: families look it up by name.
 *
 * @throws OutcomeError where the column is not there or cannot be read so
 */
export function readOutcome(table: Table, choice: OutcomeChoice): Outcome {
  const place = table.dictionary.findIndex((entry) => entry.name === choice.column);
  const column = table.columns[place];
  if (!column) throw new OutcomeError('The outcome column is not in this cohort.');
  const entry = table.dictionary[place];
  const reader = readers[choice.kind] as (
    column: Column,
    choice: OutcomeChoice,
    name: string,
  ) => Outcome;
  return reader(column, choice, display(entry));
}

const readers: {
  [K in OutcomeKind]: (
    column: Column,
    choice: Extract<OutcomeChoice, { kind: K }>,
    name: string,
  ) => Outcome<K>;
} = {
  event(column, { event }, name) {
    const { codes, levels } = coded(column, name);
    const code = levels.indexOf(event);
    if (code < 0) throw new OutcomeError(`${name} has no level "${event}" in this cohort.`);
    // Written out: going through an iterator takes ten times as long.
    const values = new Int8Array(codes.length);
    for (let i = 0; i < codes.length; i++)
      values[i] = codes[i] < 0 ? -1 : Number(codes[i] === code);
    return { kind: 'event', values };
  },

  levels(column, { ordered, reference }, name) {
    const { codes, levels } = coded(column, name);
    if (levels.length < 2)
      throw new OutcomeError(`${name} has one level only: there is nothing to tell apart.`);
    if (!levels.includes(reference))
      throw new OutcomeError(`${name} has no level "${reference}" in this cohort.`);
    return { kind: 'levels', values: codes, levels, ordered };
  },

  number(column, _choice, name) {
    if (column.type !== 'number')
      throw new OutcomeError(`${name} is no number. Make it one in Records.`);
    return { kind: 'number', values: column.values };
  },
};

function coded(column: Column, name: string): CodedColumn {
  if (column.type !== 'coded')
    throw new OutcomeError(`${name} has no levels. Make it yes/no or a category in Records.`);
  return column;
}
