import { display, showValue, type Column, type Table } from '../table/index.ts';
import { DesignError } from './design-error.ts';

/** A column that a split or folds go by. Throws a DesignError where the cohort lacks it. */
export function columnOf(table: Table, name: string): { column: Column; label: string } {
  const place = table.dictionary.findIndex((entry) => entry.name === name);
  if (place < 0)
    throw new DesignError(
      name
        ? `Patients are to be divided by “${name}”, and these patients have no such column.`
        : 'Choose the column that patients are divided by.',
    );
  return { column: table.columns[place], label: display(table.dictionary[place]) };
}

/** What stands in each row, as text; empty where it is not known. */
export function wordsOf(table: Table, name: string): string[] {
  const { column } = columnOf(table, name);
  const isDate = table.dictionary.find((entry) => entry.name === name)?.kind === 'date';
  return Array.from({ length: table.rowCount }, (_, row) => showValue(column, row, isDate));
}
