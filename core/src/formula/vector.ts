import { readDay, type Column, type DictionaryEntry } from '../table/index.ts';

/** What a part of a formula is. */
export type ValueType = 'number' | 'yes/no' | 'date' | 'levels';

/** The values of a part of a formula, one a row: 1 and 0 for yes and no, days for dates, NaN not known. */
export type Vector =
  | { type: 'number' | 'yes/no' | 'date'; values: Float64Array }
  | { type: 'levels'; codes: Int32Array; levels: string[] };

/** What a column of the dictionary is within a formula. */
export function typeOfEntry({ kind }: Pick<DictionaryEntry, 'kind'>): ValueType {
  if (kind === 'number' || kind === 'date' || kind === 'yes/no') return kind;
  return 'levels';
}

/** A stored column as a vector. */
export function vectorOf(column: Column, entry: Pick<DictionaryEntry, 'kind'>): Vector {
  if (column.type === 'number')
    return { type: entry.kind === 'date' ? 'date' : 'number', values: column.values };
  if (column.type === 'text') return levelsOfText(column.values);
  if (entry.kind !== 'yes/no')
    return { type: 'levels', codes: column.codes, levels: column.levels };
  const yes = column.levels.indexOf('yes');
  return {
    type: 'yes/no',
    values: Float64Array.from(column.codes, (code) => (code < 0 ? NaN : Number(code === yes))),
  };
}

/** A vector as a column to be stored. */
export function columnOf(vector: Vector): Column {
  if (vector.type === 'levels')
    return { type: 'coded', codes: vector.codes, levels: vector.levels };
  if (vector.type !== 'yes/no') return { type: 'number', values: vector.values };
  return {
    type: 'coded',
    levels: ['no', 'yes'],
    codes: Int32Array.from(vector.values, (value) => (Number.isNaN(value) ? -1 : value)),
  };
}

/** Days since 1970 of a text that is a date year first; NaN when it is none. */
export const dayOfText = (text: string): number => readDay(text);

function levelsOfText(values: (string | null)[]): Vector {
  const places = new Map<string, number>();
  const codes = Int32Array.from(values, (value) => {
    if (value === null) return -1;
    const known = places.get(value);
    if (known !== undefined) return known;
    places.set(value, places.size);
    return places.size - 1;
  });
  return { type: 'levels', codes, levels: [...places.keys()] };
}
