import type { CodedColumn, NumberColumn } from '../table/index.ts';

/** A column on its way through the preparation. */
export type WorkingColumn = {
  /** Name of the file's column it comes from; of what a step has made, a name of its own. */
  source: string;
  /** 'value' is the column itself, 'gap' marks where it was not known, 'level' is an indicator. */
  part: 'value' | 'gap' | 'level';
  /** Of a coded column: its levels have an order. */
  ordered?: boolean;
  level?: string;
  reference?: string;
  /** part 'gap': the columns that it is about. */
  together?: string[];
  /** The file's columns that a step made it of; absent where it is one of them. */
  of?: string[];
  /** What its numbers are by now, where they are not the file's: "log", "0 to 1". */
  scale?: string;
  /** The analyst chose the scale: it is the last word. */
  isScaled?: true;
  /** Ends of what is plausible, as the dictionary says. */
  plausible?: PlausibleEnds;
} & (NumberColumn | CodedColumn);

export interface PlausibleEnds {
  least: number | null;
  most: number | null;
}

export type NumberWorking = Extract<WorkingColumn, { type: 'number' }>;
export type CodedWorking = Extract<WorkingColumn, { type: 'coded' }>;

/** Whether it is the column itself, as opposed to something that was made beside it. */
export const isValue = ({ part }: WorkingColumn) => part === 'value';

export const isNumber = (column: WorkingColumn): column is NumberWorking =>
  column.type === 'number' && isValue(column);

export const isCodes = (column: WorkingColumn): column is CodedWorking =>
  column.type === 'coded' && isValue(column);

export const lengthOf = (column: WorkingColumn): number =>
  column.type === 'number' ? column.values.length : column.codes.length;

/** Which patients lack it. */
export function gapAt(column: WorkingColumn): (row: number) => boolean {
  if (column.type === 'number') {
    const { values } = column;
    return (row) => Number.isNaN(values[row]);
  }
  const { codes } = column;
  return (row) => codes[row] < 0;
}

export function countGaps(column: WorkingColumn): number {
  let count = 0;
  if (column.type === 'number') {
    const { values } = column;
    for (let row = 0; row < values.length; row++) if (Number.isNaN(values[row])) count++;
  } else {
    const { codes } = column;
    for (let row = 0; row < codes.length; row++) if (codes[row] < 0) count++;
  }
  return count;
}

/** The known numbers, which may be the column's own array: not to be changed. */
export function knownOf({ values }: NumberWorking): Float64Array {
  let first = 0;
  while (first < values.length && !Number.isNaN(values[first])) first++;
  if (first === values.length) return values;
  const known = new Float64Array(values.length);
  let count = 0;
  for (let i = 0; i < values.length; i++) if (!Number.isNaN(values[i])) known[count++] = values[i];
  return known.subarray(0, count);
}

/** Mean and, with divisor n, SD of numbers without NaN. */
export function meanAndSd(known: Float64Array): { mean: number; sd: number } {
  let sum = 0;
  for (let i = 0; i < known.length; i++) sum += known[i];
  const mean = sum / Math.max(1, known.length);
  let squares = 0;
  for (let i = 0; i < known.length; i++) squares += (known[i] - mean) ** 2;
  return { mean, sd: Math.sqrt(squares / Math.max(1, known.length)) };
}
