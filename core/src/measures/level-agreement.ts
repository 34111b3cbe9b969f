import { z95 } from '../numeric/index.ts';
import type { LevelTable } from './level-table.ts';
import type { Figure } from './rates.ts';

/** How much an error counts as agreement: not at all, by its distance, or by that squared. */
export type Agreement = 'none' | 'linear' | 'quadratic';

/**
 * Agreement of given and true level beyond chance: Cohen (1960), Educ Psychol Meas 20:37-46; weighted,
 * Cohen (1968), Psychological Bulletin 70:213-220; large-sample 95% interval of Fleiss, Cohen & Everitt
 * (1969), Psychological Bulletin 72:323-327. Without value when chance alone would agree always.
 */
export function levelKappa({ counts }: LevelTable, weights: Agreement): Figure {
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
  let spread = 0;
  for (let i = 0; i < size; i++)
    for (let j = 0; j < size; j++)
      spread += cell[i][j] * (w(i, j) - (rowMean[i] + columnMean[j]) * (1 - value)) ** 2;
  const variance = spread - (value - chance * (1 - value)) ** 2;
  const se = Math.sqrt(Math.max(variance, 0) / total) / (1 - chance);
  return { value, interval: [Math.max(-1, value - z95 * se), Math.min(1, value + z95 * se)] };
}

const agreement: { [K in Agreement]: (distance: number) => number } = {
  none: (distance) => Number(distance === 0),
  linear: (distance) => 1 - distance,
  quadratic: (distance) => 1 - distance ** 2,
};
