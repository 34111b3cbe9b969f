import { chiSquareUpperTail } from '../../numeric/index.ts';

/** Patients by the levels of two columns; those not known in one of them are left out. */
export interface CrossTable {
  /** `counts[row level][column level]`. */
  counts: number[][];
  patients: number;
}

/** @param a, b codes, -1 where not known */
export function crossTable(
  a: ArrayLike<number>,
  aLevels: number,
  b: ArrayLike<number>,
  bLevels: number,
): CrossTable {
  const flat = new Float64Array(aLevels * bLevels);
  let patients = 0;
  for (let i = 0; i < a.length; i++) {
    if (a[i] < 0 || b[i] < 0) continue;
    flat[a[i] * bLevels + b[i]]++;
    patients++;
  }
  const counts = Array.from({ length: aLevels }, (_, level) =>
    Array.from(flat.subarray(level * bLevels, (level + 1) * bLevels)),
  );
  return { counts, patients };
}

export interface ChiSquareTest {
  statistic: number;
  degreesOfFreedom: number;
  p: number;
  /** √(χ² / n / (min(rows, columns) - 1)): Cramér (1946), Mathematical Methods of Statistics. */
  cramersV: number;
  smallestExpected: number;
}

/**
 * Pearson's chi-square test of independence, without continuity correction: Pearson (1900),
 * Philosophical Magazine 50:157-175. Empty rows and columns do not count. Undefined when fewer
 * than two of either are left.
 */
export function chiSquareTest(counts: number[][]): ChiSquareTest | undefined {
  const rows = counts.map((row) => row.reduce((sum, count) => sum + count, 0));
  const columns = (counts[0] ?? []).map((_, j) => counts.reduce((sum, row) => sum + row[j], 0));
  const total = rows.reduce((sum, count) => sum + count, 0);
  const usedRows = rows.filter((count) => count > 0).length;
  const usedColumns = columns.filter((count) => count > 0).length;
  if (usedRows < 2 || usedColumns < 2) return undefined;
  let statistic = 0;
  let smallestExpected = Infinity;
  for (let i = 0; i < rows.length; i++)
    for (let j = 0; j < columns.length; j++) {
      const expected = (rows[i] * columns[j]) / total;
      if (expected === 0) continue;
      smallestExpected = Math.min(smallestExpected, expected);
      statistic += (counts[i][j] - expected) ** 2 / expected;
    }
  const degreesOfFreedom = (usedRows - 1) * (usedColumns - 1);
  return {
    statistic,
    degreesOfFreedom,
    p: chiSquareUpperTail(statistic, degreesOfFreedom),
    cramersV: Math.sqrt(statistic / total / (Math.min(usedRows, usedColumns) - 1)),
    smallestExpected,
  };
}
