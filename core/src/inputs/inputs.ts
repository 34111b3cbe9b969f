import * as z from 'zod';
import type { CodedColumn } from '../table/index.ts';

/**
 * Model inputs: what a family is fitted on. `columns[j][i]` is input j of patient i; no NaN, except
 * for families that take gaps or columns as they are.
 */
export interface Inputs {
  rowCount: number;
  names: string[];
  columns: Float64Array[];
  /** As they are: of input j, the levels that its values are codes of; absent for numbers. */
  levels?: (string[] | undefined)[];
  /** Which of those have an order, that of their codes. */
  ordered?: boolean[];
  /** The column that an indicator of a level is of, else the input's own name; each its own where absent. */
  sources?: string[];
  /** Inputs whose scale the analyst chose: no family puts them on another; none where absent. */
  scaled?: boolean[];
}

/** The inputs of these patients alone, in this order. */
export const takeInputs = (inputs: Inputs, rows: ArrayLike<number>): Inputs => ({
  ...inputs,
  rowCount: rows.length,
  columns: inputs.columns.map((column) => {
    const some = new Float64Array(rows.length);
    for (let i = 0; i < some.length; i++) some[i] = column[rows[i]];
    return some;
  }),
});

/** Places of a column's values among these levels; a level that is not among them is not known. */
export function codesAmong({ codes, levels: own }: CodedColumn, levels: string[]): Float64Array {
  const places = own.map((level) => levels.indexOf(level));
  const values = new Float64Array(codes.length);
  for (let i = 0; i < values.length; i++) {
    const place = places[codes[i]] ?? -1;
    values[i] = place < 0 ? NaN : place;
  }
  return values;
}

/** Where one model input comes from, in a form the interface can put in words. */
export const inputMeaningSchema = z.object({
  /** Name of the input, unique in a model. */
  name: z.string(),
  /** Name of the column it is made from. */
  column: z.string(),
  kind: z.enum(['number', 'level', 'gap', 'levels', 'made']),
  /** kind 'gap': the columns that go empty together, where there are several; 'made': those it is made of. */
  columns: z.array(z.string()).optional(),
  /** kind 'level': 1 where the column has this level, 0 where it has `reference` or another. */
  level: z.string().optional(),
  reference: z.string().optional(),
  /** kind 'levels': the column as it is, as codes of these. */
  levels: z.array(z.string()).optional(),
  /** kind 'number': the input is (value - mean) / sd, sd with divisor n; as it is where absent. */
  mean: z.number().optional(),
  sd: z.number().optional(),
  /** What a number was turned into before, where it is not the file's: "log", "0 to 1". */
  scale: z.string().optional(),
  /** The analyst chose the scale: it is the one that the family is given. */
  scaled: z.literal(true).optional(),
});
export type InputMeaning = z.infer<typeof inputMeaningSchema>;
