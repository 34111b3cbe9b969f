import type { PredictorColumn } from '../preparation/index.ts';

/** What a model says of patients whose predictors are these: a risk, a summed share, or a number. */
export type Ask = (columns: PredictorColumn[], rowCount: number) => Float64Array;

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
