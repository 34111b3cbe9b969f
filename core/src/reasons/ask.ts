import type { PredictorColumn } from '../preparation/index.ts';

/** What a model says of patients whose predictors are these: a risk, a summed share, or a number. */
export type Ask = (columns: PredictorColumn[], rowCount: number) => Float64Array;

/** Asks about patients with other values of some columns, several times at once. */
export type AskAltered = (
  columns: PredictorColumn[],
  alternatives: PredictorColumn[][],
  rowCount: number,
) => Float64Array[];

/** What is known of one predictor: a number, or the place of a level; NaN and -1 where nothing is. */
export type Value = number;

/** The column of these patients, in this order; a patient may come several times. */
export function takenRows(column: PredictorColumn, places: ArrayLike<number>): PredictorColumn {
  const { length } = places;
  if (column.type === 'number') {
    const values = new Float64Array(length);
    for (let i = 0; i < length; i++) values[i] = column.values[places[i]];
    return { ...column, values };
  }
  const codes = new Int32Array(length);
  for (let i = 0; i < length; i++) codes[i] = column.codes[places[i]];
  return { ...column, codes };
}

/** The column with these values instead. */
export const withValues = (column: PredictorColumn, values: ArrayLike<Value>): PredictorColumn =>
  column.type === 'number'
    ? { ...column, values: Float64Array.from(values) }
    : { ...column, codes: Int32Array.from(values) };

/** The column's own values, as they can be given to `withValues`. */
export const valuesOf = (column: PredictorColumn): ArrayLike<Value> =>
  column.type === 'number' ? column.values : column.codes;

export const rowCountOf = (columns: PredictorColumn[]): number =>
  columns.length === 0 ? 0 : valuesOf(columns[0]).length;

/** Whether a value is known. */
export const isKnown = (column: PredictorColumn, value: Value): boolean =>
  column.type === 'number' ? !Number.isNaN(value) : value >= 0;

export function columnNamed(columns: PredictorColumn[], name: string): PredictorColumn {
  const found = columns.find((column) => column.name === name);
  if (!found) throw new Error(`There is no predictor called ${name}.`);
  return found;
}

/** The columns with codes of the levels that others have; a level that these do not have is not known. */
export const inLevelsOf = (columns: PredictorColumn[], others: PredictorColumn[]) =>
  columns.map((column, j): PredictorColumn => {
    const like = others[j];
    if (column.type !== 'coded' || like.type !== 'coded') return column;
    const places = column.levels.map((level) => like.levels.indexOf(level));
    const codes = column.codes.map((code) => places[code] ?? -1);
    return { ...column, levels: like.levels, codes };
  });

/** At most so many, evenly taken. */
export function everyFew(count: number, most: number): Int32Array {
  const length = Math.min(count, most);
  return Int32Array.from({ length }, (_, i) => Math.floor(((i + 0.5) * count) / length));
}
