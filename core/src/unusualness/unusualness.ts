import * as z from 'zod';
import { codesAmong, type Inputs } from '../inputs/index.ts';
import type { CodedColumn, NumberColumn } from '../table/index.ts';
import { growIsolationForest, isolationScores } from '../trees/index.ts';
import { keepForest, keptForestSchema, reviveForest } from './kept-forest.ts';

/** A column of patients under the name that it is known by. */
export interface NamedColumn {
  name: string;
  ordered?: boolean;
  column: NumberColumn | CodedColumn;
}

export const unusualnessSchema = z.object({
  /** Columns that it rests on; of levels those that were known. */
  columns: z.array(z.object({ name: z.string(), levels: z.array(z.string()).optional() })),
  forest: keptForestSchema,
});
/** What tells who is unlike the patients that were learned from: plain JSON, the same for any later cohort. */
export type Unusualness = z.infer<typeof unusualnessSchema>;

/** Trees, and patients that each is grown on, as their authors advise (see `growIsolationForest`). */
const trees = 100;
const sample = 256;

/** Undefined where there is nobody, or nothing to tell them apart by. */
export function learnUnusualness(
  columns: NamedColumn[],
  rowCount: number,
  seed = 1,
): Unusualness | undefined {
  if (rowCount < 2 || columns.length === 0) return undefined;
  const forest = growIsolationForest(inputsOf(columns, rowCount), { trees, sample, seed });
  return {
    columns: columns.map(({ name, column }) => ({
      name,
      ...(column.type === 'coded' && { levels: column.levels }),
    })),
    forest: keepForest(forest),
  };
}

/**
 * Of each patient, 0 to 1: the nearer to 1, the more unlike those that were learned from. A column that is not there, and a
 * level that was not known then, are not known.
 */
export function unusualnessOf(
  learned: Unusualness,
  columns: NamedColumn[],
  rowCount: number,
): Float64Array {
  const byName = new Map(columns.map((one) => [one.name, one.column]));
  const inputs: Inputs = {
    rowCount,
    names: learned.columns.map(({ name }) => name),
    columns: learned.columns.map(({ name, levels }) => {
      const column = byName.get(name);
      if (column?.type === 'number' && !levels) return column.values;
      if (column?.type === 'coded' && levels) return codesAmong(column, levels);
      return new Float64Array(rowCount).fill(NaN);
    }),
  };
  return isolationScores(reviveForest(learned.forest), inputs);
}

/** Columns as trees take them: numbers and codes, with gaps. */
export function inputsOf(columns: NamedColumn[], rowCount: number): Inputs {
  return {
    rowCount,
    names: columns.map(({ name }) => name),
    columns: columns.map(({ column }) =>
      column.type === 'number' ? column.values : codesAmong(column, column.levels),
    ),
    levels: columns.map(({ column }) => (column.type === 'coded' ? column.levels : undefined)),
    ordered: columns.map(({ ordered }) => ordered === true),
  };
}
