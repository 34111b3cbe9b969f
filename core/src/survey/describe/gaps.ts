import { isMissing, type Column } from '../../table/index.ts';

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

/** @param rows the rows to look at */
export function findGaps(columns: Column[], rows: ArrayLike<number>, patternsKept = 25): Gaps {
  const words = Math.max(1, Math.ceil(columns.length / 31));
  const masks = new Int32Array(rows.length * words);
  const perColumn = columns.map((column, j) => {
    const word = Math.floor(j / 31);
    const bit = 1 << (j % 31);
    let missing = 0;
    for (let i = 0; i < rows.length; i++)
      if (isMissing(column, rows[i])) {
        masks[i * words + word] |= bit;
        missing++;
      }
    return missing;
  });
  const seen = new Map<string, number>();
  for (let i = 0; i < rows.length; i++) {
    const key = masks.subarray(i * words, (i + 1) * words).join(' ');
    seen.set(key, (seen.get(key) ?? 0) + 1);
  }
  const patterns = [...seen]
    .map(([key, patients]) => ({ columns: columnsOf(key), patients }))
    .sort((a, b) => b.patients - a.patients || a.columns.length - b.columns.length);
  const perPatient = new Array<number>(columns.length + 1).fill(0);
  for (const { columns: gone, patients } of patterns) perPatient[gone.length] += patients;
  while (perPatient.length > 1 && perPatient.at(-1) === 0) perPatient.pop();
  return {
    patients: rows.length,
    perColumn,
    perPatient,
    patterns: patterns.slice(0, patternsKept),
    patternCount: patterns.length,
  };
}

function columnsOf(key: string): number[] {
  return key.split(' ').flatMap((word, w) => {
    const mask = Number(word);
    return Array.from({ length: 31 }, (_, b) => b).flatMap((b) =>
      mask & (1 << b) ? [31 * w + b] : [],
    );
  });
}
