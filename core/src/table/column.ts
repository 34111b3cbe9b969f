import type { Dictionary } from './dictionary.ts';

/** Numbers, or dates as days since 1970-01-01. NaN where not known. */
export interface NumberColumn {
  type: 'number';
  values: Float64Array;
}

/** Codes into `levels`; -1 where not known. */
export interface CodedColumn {
  type: 'coded';
  codes: Int32Array;
  levels: string[];
}

/** Free text or identifiers. null where not known. */
export interface TextColumn {
  type: 'text';
  values: (string | null)[];
}

export type Column = NumberColumn | CodedColumn | TextColumn;

/** A cohort in memory: `columns[i]` is described by `dictionary[i]`; one row a patient. */
export interface Table {
  rowCount: number;
  dictionary: Dictionary;
  columns: Column[];
}

/** Whether the value of this row is not known. */
export function isMissing(column: Column, row: number): boolean {
  if (column.type === 'number') return Number.isNaN(column.values[row]);
  if (column.type === 'coded') return column.codes[row] < 0;
  return column.values[row] === null;
}

/** How many rows are not known. */
export function countMissing(column: Column): number {
  let count = 0;
  if (column.type === 'number') {
    const { values } = column;
    for (let row = 0; row < values.length; row++) if (Number.isNaN(values[row])) count++;
  } else if (column.type === 'coded') {
    const { codes } = column;
    for (let row = 0; row < codes.length; row++) if (codes[row] < 0) count++;
  } else for (const value of column.values) if (value === null) count++;
  return count;
}

/** The value as the analyst reads it; an empty string where not known. */
export function showValue(column: Column, row: number, isDate = false): string {
  if (isMissing(column, row)) return '';
  if (column.type === 'coded') return column.levels[column.codes[row]];
  if (column.type === 'text') return column.values[row] ?? '';
  const value = column.values[row];
  return isDate ? showDay(value) : String(value);
}

/** Days since 1970-01-01 as an ISO 8601 date. */
export function showDay(days: number): string {
  return new Date(days * 86_400_000).toISOString().slice(0, 10);
}

/** Number of rows of a column. */
export function lengthOf(column: Column): number {
  return column.type === 'coded' ? column.codes.length : column.values.length;
}
