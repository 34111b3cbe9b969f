import { factorise, solve } from '../numeric/index.ts';
import type { Column, Table } from '../table/index.ts';
import { rowsOn } from './rows.ts';
import { side } from './split/index.ts';

/** How alike development and held-out patients are in one column. */
export interface Balance {
  column: string;
  /** Patients for whom it is known, of so many. */
  development: SideOfColumn;
  heldOut: SideOfColumn;
  /**
   * Standardised difference, held out less development; of several levels it has no sign. Absent
   * where nothing varies on either side, or a side knows nothing.
   */
  difference?: number;
}

export interface SideOfColumn {
  patients: number;
  known: number;
  /** Of numbers and dates; SD with divisor n - 1. */
  mean?: number;
  sd?: number;
  /** Of levels, in their order: patients of each. */
  counts?: number[];
}

/** From which standardised difference on two sides are called unlike (common practice). */
export const unlikeFrom = 0.1;

/**
 * Standardised differences of columns between the two sides, gaps left out column by column.
 * Numbers: difference of means by the root of the mean variance. Two levels: the same of shares.
 * Several levels: root of d'S⁻¹d with the shares d of all levels but one and the mean S of both
 * multinomial covariances (Yang & Dalton 2012, SAS Global Forum 335-2012).
 *
 * @param sides one entry of `side` a row
 */
export function balanceOf(table: Table, names: string[], sides: Uint8Array): Balance[] {
  const [developmentRows, heldOutRows] = [side.development, side.heldOut].map((wanted) =>
    rowsOn(sides, wanted),
  );
  return names.flatMap((name): Balance[] => {
    const place = table.dictionary.findIndex((entry) => entry.name === name);
    const column = table.columns[place] as Column | undefined;
    if (!column || column.type === 'text') return [];
    const [development, heldOut] = [developmentRows, heldOutRows].map((rows) =>
      column.type === 'number' ? momentsOf(column.values, rows) : countsOf(column, rows),
    );
    const difference =
      column.type === 'number'
        ? differenceOfMeans(development, heldOut)
        : differenceOfShares(development, heldOut);
    return [
      { column: name, development, heldOut, ...(difference !== undefined && { difference }) },
    ];
  });
}

function momentsOf(values: Float64Array, rows: Int32Array): SideOfColumn {
  let known = 0;
  let sum = 0;
  for (let i = 0; i < rows.length; i++) {
    const value = values[rows[i]];
    if (Number.isNaN(value)) continue;
    known++;
    sum += value;
  }
  if (known < 2) return { patients: rows.length, known };
  const mean = sum / known;
  let squares = 0;
  for (let i = 0; i < rows.length; i++) {
    const value = values[rows[i]];
    if (!Number.isNaN(value)) squares += (value - mean) * (value - mean);
  }
  return { patients: rows.length, known, mean, sd: Math.sqrt(squares / (known - 1)) };
}

function countsOf(
  { codes, levels }: Extract<Column, { type: 'coded' }>,
  rows: Int32Array,
): SideOfColumn {
  // The first place is for those of whom it is not known.
  const counts = new Float64Array(levels.length + 1);
  for (let i = 0; i < rows.length; i++) counts[codes[rows[i]] + 1]++;
  return {
    patients: rows.length,
    known: rows.length - counts[0],
    counts: Array.from(counts.subarray(1)),
  };
}

function differenceOfMeans(a: SideOfColumn, b: SideOfColumn): number | undefined {
  if (a.mean === undefined || b.mean === undefined) return undefined;
  const spread = Math.sqrt((a.sd! ** 2 + b.sd! ** 2) / 2);
  return spread > 0 ? (b.mean - a.mean) / spread : undefined;
}

function differenceOfShares(a: SideOfColumn, b: SideOfColumn): number | undefined {
  if (a.known === 0 || b.known === 0) return undefined;
  const there = a.counts!.flatMap((count, k) => (count + b.counts![k] > 0 ? [k] : []));
  const shares = [a, b].map(({ counts, known }) => there.map((k) => counts![k] / known));
  const size = there.length - 1;
  if (size < 1) return undefined;
  // The first level is left out: with two, the sign is that of the second.
  const d = Float64Array.from({ length: size }, (_, k) => shares[1][k + 1] - shares[0][k + 1]);
  const covariance = new Float64Array(size * size);
  for (const p of shares)
    for (let i = 0; i < size; i++)
      for (let j = 0; j < size; j++)
        covariance[i * size + j] += (i === j ? p[i + 1] : 0) / 2 - (p[i + 1] * p[j + 1]) / 2;
  const factor = factorise(covariance, size);
  if (factor.kept.some((kept, k) => !kept && d[k] !== 0)) return undefined;
  const solved = solve(factor, d);
  const distance = Math.sqrt(d.reduce((sum, one, k) => sum + one * solved[k], 0));
  return size === 1 && d[0] < 0 ? -distance : distance;
}
