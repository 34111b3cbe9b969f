import { isMissing } from '../../table/index.ts';
import { gradesOfColumn, type Measured } from '../associate/index.ts';

/** Where values are not known, over a whole cohort. */
export interface Gaps {
  patients: number;
  /** Not known in each column. */
  perColumn: number[];
  /** `perPatient[k]` patients have k gaps. */
  perPatient: number[];
  /** Columns that are not known together, most frequent first; patients without gaps come as []. */
  patterns: { columns: number[]; patients: number }[];
  /** How many patterns there are in all. */
  patternCount: number;
}

export function findGaps(
  columns: Pick<Measured, 'column' | 'grades'>[],
  patients: number,
  patternsKept = 25,
): Gaps {
  const words = Math.max(1, Math.ceil(columns.length / 31));
  const masks = new Int32Array(patients * words);
  // Gaps are few: what is known is passed over.
  const perColumn = columns.map((column, j) => {
    const unknown = unknownRows(column);
    const word = Math.floor(j / 31);
    for (const row of unknown) masks[row * words + word] |= 1 << (j % 31);
    return unknown.length;
  });
  const seen = new Map<string, number>();
  let without = 0;
  for (let row = 0; row < patients; row++) {
    const mask = masks.subarray(row * words, (row + 1) * words);
    if (mask.every((word) => word === 0)) {
      without++;
      continue;
    }
    const key = mask.join(' ');
    seen.set(key, (seen.get(key) ?? 0) + 1);
  }
  if (without > 0) seen.set(new Int32Array(words).join(' '), without);
  const patterns = [...seen]
    .map(([key, patients]) => ({ columns: columnsOf(key), patients }))
    .sort((a, b) => b.patients - a.patients || a.columns.length - b.columns.length);
  const perPatient = new Array<number>(columns.length + 1).fill(0);
  for (const { columns: gone, patients } of patterns) perPatient[gone.length] += patients;
  while (perPatient.length > 1 && perPatient.at(-1) === 0) perPatient.pop();
  return {
    patients,
    perColumn,
    perPatient,
    patterns: patterns.slice(0, patternsKept),
    patternCount: patterns.length,
  };
}

function unknownRows({ column, grades }: Pick<Measured, 'column' | 'grades'>): Int32Array {
  if (column.type !== 'text') return gradesOfColumn({ column, grades }).unknown;
  return Int32Array.from(column.values.keys()).filter((row) => isMissing(column, row));
}

function columnsOf(key: string): number[] {
  return key.split(' ').flatMap((word, w) => {
    const mask = Number(word);
    return Array.from({ length: 31 }, (_, b) => b).flatMap((b) =>
      mask & (1 << b) ? [31 * w + b] : [],
    );
  });
}
