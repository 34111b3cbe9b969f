import * as z from 'zod';
import type { WorkingColumn } from '../working.ts';

/** The columns that a step is for: those named, or all that it can touch. */
export const chosenColumns = z.union([z.literal('all'), z.array(z.string()).max(10_000)]);
export type ChosenColumns = z.infer<typeof chosenColumns>;

/** Those of the columns that are chosen and that the step can touch. */
export function choose<Column extends WorkingColumn>(
  columns: WorkingColumn[],
  chosen: ChosenColumns,
  can: (column: WorkingColumn) => column is Column,
): Column[] {
  const names = chosen === 'all' ? undefined : new Set(chosen);
  return columns.filter(can).filter(({ source }) => !names || names.has(source));
}

/** Does something to the columns that were learned, by name; the others stay as they are. */
export function changeEach<Learned extends { column: string }, Column extends WorkingColumn>(
  learned: Learned[],
  columns: WorkingColumn[],
  can: (column: WorkingColumn) => column is Column,
  change: (column: Column, learned: Learned) => WorkingColumn | WorkingColumn[],
): WorkingColumn[] {
  const known = new Map(learned.map((one) => [one.column, one]));
  return columns.flatMap((column) => {
    const own = known.get(column.source);
    return own && can(column) ? change(column, own) : [column];
  });
}

/** A name that no column has yet. */
export function freeName(wanted: string, columns: WorkingColumn[]): string {
  const taken = new Set(columns.map(({ source }) => source));
  let name = wanted;
  for (let n = 2; taken.has(name); n++) name = `${wanted} (${n})`;
  return name;
}

/** Numbers worked out one by one; what has no finite value is not known. */
export function mapValues(values: Float64Array, of: (value: number) => number): Float64Array {
  const made = new Float64Array(values.length);
  for (let i = 0; i < values.length; i++) {
    const value = of(values[i]);
    made[i] = Number.isFinite(value) ? value : NaN;
  }
  return made;
}
