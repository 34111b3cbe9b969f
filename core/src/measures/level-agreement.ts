import { z95 } from '../numeric/index.ts';
import { reachOf } from './clusters.ts';
import type { LevelRows, LevelTable } from './level-table.ts';
import type { Figure } from './rates.ts';

/** How much an error counts as agreement: not at all, by its distance, or by that squared. */
export type Agreement = 'none' | 'linear' | 'quadratic';

/**
 * Agreement of given and true level beyond chance: Cohen (1960), Educ Psychol Meas 20:37-46; weighted,
 * Cohen (1968), Psychological Bulletin 70:213-220; large-sample 95% interval of Fleiss, Cohen & Everitt
 * (1969), Psychological Bulletin 72:323-327. Without value when chance alone would agree always. Where rows are of
 * one patient or group, by the jackknife over clusters (Efron & Tibshirani 1993, chapter 11).
 *
 * @param rows where several are of one patient or group
 */
export function levelKappa({ counts }: LevelTable, weights: Agreement, rows?: LevelRows): Figure {
  const size = counts.length;
  const total = counts.flat().reduce((sum, count) => sum + count, 0);
  if (total === 0) return {};
  const cell = counts.map((row) => row.map((count) => count / total));
  const row = cell.map((values) => values.reduce((sum, value) => sum + value, 0));
  const column = row.map((_, j) => cell.reduce((sum, values) => sum + values[j], 0));
  const w = (i: number, j: number) => agreement[weights](Math.abs(i - j) / (size - 1));
  let observed = 0;
  let chance = 0;
  const rowMean = new Float64Array(size);
  const columnMean = new Float64Array(size);
  for (let i = 0; i < size; i++)
    for (let j = 0; j < size; j++) {
      observed += w(i, j) * cell[i][j];
      chance += w(i, j) * row[i] * column[j];
      rowMean[i] += w(i, j) * column[j];
      columnMean[j] += w(i, j) * row[i];
    }
  if (chance >= 1) return {};
  const value = (observed - chance) / (1 - chance);
  if (rows) return byJackknife(counts, weights, value, rows);
  let spread = 0;
  for (let i = 0; i < size; i++)
    for (let j = 0; j < size; j++)
      spread += cell[i][j] * (w(i, j) - (rowMean[i] + columnMean[j]) * (1 - value)) ** 2;
  const variance = spread - (value - chance * (1 - value)) ** 2;
  const se = Math.sqrt(Math.max(variance, 0) / total) / (1 - chance);
  return { value, interval: [Math.max(-1, value - z95 * se), Math.min(1, value + z95 * se)] };
}

/** The interval from the kappas without one cluster each. */
function byJackknife(
  counts: number[][],
  weights: Agreement,
  value: number,
  { values, given, clusters }: LevelRows,
): Figure {
  const own = new Map<number, [number, number][]>();
  for (let row = 0; row < given.length; row++) {
    if (values[row] < 0) continue;
    const cells = own.get(clusters.codes[row]) ?? [];
    cells.push([values[row], given[row]]);
    own.set(clusters.codes[row], cells);
  }
  const left = counts.map((line) => [...line]);
  const without: number[] = [];
  for (const cells of own.values()) {
    for (const [i, j] of cells) left[i][j]--;
    const one = levelKappa({ levels: [], counts: left }, weights).value;
    for (const [i, j] of cells) left[i][j]++;
    if (one === undefined) return { value };
    without.push(one);
  }
  const { length } = without;
  if (length < 2) return { value };
  const mean = without.reduce((sum, one) => sum + one, 0) / length;
  const squares = without.reduce((sum, one) => sum + (one - mean) ** 2, 0);
  const reach = reachOf({ count: length }) * Math.sqrt(((length - 1) / length) * squares);
  return { value, interval: [Math.max(-1, value - reach), Math.min(1, value + reach)] };
}

const agreement: { [K in Agreement]: (distance: number) => number } = {
  none: (distance) => Number(distance === 0),
  linear: (distance) => 1 - distance,
  quadratic: (distance) => 1 - distance ** 2,
};
