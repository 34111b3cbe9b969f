import { gradesFrom, gradesOf, type Grades } from '../../numeric/index.ts';
import type { Column, Kind } from '../../table/index.ts';

/** A column of the patients at hand. */
export interface Measured {
  name: string;
  kind: Kind;
  column: Column;
  /** Its grades where they are known already; they are found otherwise. */
  grades?: Grades;
}

/** The column with its grades, for whoever asks more than one thing of it; text has none. */
export function measured(name: string, kind: Kind, column: Column): Measured {
  return column.type === 'text'
    ? { name, kind, column }
    : { name, kind, column, grades: gradesOfColumn({ column }) };
}

/** Numbers by their values, levels by their codes. Throws for text, which has no scale. */
export function gradesOfColumn({ column, grades }: Pick<Measured, 'column' | 'grades'>): Grades {
  if (grades) return grades;
  if (column.type === 'number') return gradesOf(column.values);
  if (column.type === 'coded')
    return gradesFrom(Float64Array.from(column.levels.keys()), column.codes);
  throw new Error('Text has no scale.');
}
