import { readFileSync } from 'node:fs';
import type { Dictionary } from '@rook-scale/core/table';

/** Hosmer & Lemeshow (1989), Applied Logistic Regression: low birth weight, 189 mothers. */
export const birthWeight = readFileSync(
  new URL('../../../core/test/reference/data/birthwt.csv', import.meta.url),
  'utf8',
);

/** Low birth weight is the outcome; race is a code; the weight itself gives the answer away. */
export function asPublished(dictionary: Dictionary): void {
  for (const entry of dictionary) {
    if (entry.name === 'low') entry.role = 'outcome';
    if (entry.name === 'bwt') entry.role = 'set aside';
    if (entry.name === 'race') {
      entry.kind = 'category';
      entry.levels = ['1', '2', '3'];
    }
  }
}
