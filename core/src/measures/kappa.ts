import { z95 } from '../numeric/index.ts';
import { byDelta } from './beyond-chance.ts';
import type { ErrorTable } from './error-table.ts';
import type { Figure } from './rates.ts';

/**
 * Agreement of call and outcome beyond chance (Cohen 1960, Educ Psychol Meas 20:37-46), with the
 * large-sample 95% interval of Fleiss, Cohen & Everitt (1969), Psychological Bulletin 72:323-327.
 * By cluster, the delta method. Without value when chance alone would agree always.
 */
export function cohenKappa(table: ErrorTable): Figure {
  const { found, missed, falseAlarms, rightlyLeft } = table;
  const total = found + missed + falseAlarms + rightlyLeft;
  if (total === 0) return {};
  const cells = [
    [found / total, missed / total],
    [falseAlarms / total, rightlyLeft / total],
  ];
  const row = cells.map(([a, b]) => a + b);
  const column = [cells[0][0] + cells[1][0], cells[0][1] + cells[1][1]];
  const observed = cells[0][0] + cells[1][1];
  const chance = row[0] * column[0] + row[1] * column[1];
  if (chance >= 1) return {};
  const value = (observed - chance) / (1 - chance);
  if (table.spread) return byDelta(table, kappaOf, [-1, 1]);
  let diagonal = 0;
  let off = 0;
  for (const i of [0, 1])
    for (const j of [0, 1]) {
      if (i === j) diagonal += cells[i][i] * (1 - (row[i] + column[i]) * (1 - value)) ** 2;
      else off += cells[i][j] * (column[i] + row[j]) ** 2;
    }
  const variance = diagonal + (1 - value) ** 2 * off - (value - chance * (1 - value)) ** 2;
  const se = Math.sqrt(Math.max(variance, 0) / total) / (1 - chance);
  return { value, interval: [Math.max(-1, value - z95 * se), Math.min(1, value + z95 * se)] };
}

function kappaOf([a, b, c, d]: number[]): number {
  const all = a + b + c + d;
  const chance = ((a + b) * (a + c) + (c + d) * (b + d)) / all ** 2;
  return ((a + d) / all - chance) / (1 - chance);
}
