import { gradesOf, type Grades } from '../../numeric/index.ts';
import type { Column, Kind } from '../../table/index.ts';

/** The column that the others are set against, one entry a patient at hand. */
export type Outcome =
  | { shape: 'event'; /** 1, 0, or -1 where not known. */ events: Int8Array }
  | { shape: 'levels'; codes: Int32Array; levels: number }
  | { shape: 'number'; grades: Grades };

/**
 * What a column is as an outcome: two levels have an event (the one named, else the second), more
 * levels stay levels, numbers stay numbers. Undefined for text and dates.
 */
export function outcomeOf(column: Column, kind: Kind, event?: string): Outcome | undefined {
  if (column.type === 'text' || kind === 'date') return undefined;
  if (column.type === 'number') return { shape: 'number', grades: gradesOf(column.values) };
  const { codes, levels } = column;
  if (levels.length < 2) return undefined;
  const wanted = event === undefined ? -1 : levels.indexOf(event);
  if (levels.length > 2 && wanted < 0) return { shape: 'levels', codes, levels: levels.length };
  const code = wanted < 0 ? 1 : wanted;
  return {
    shape: 'event',
    events: Int8Array.from(codes, (one) => (one < 0 ? -1 : Number(one === code))),
  };
}
