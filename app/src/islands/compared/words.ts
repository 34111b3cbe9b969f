import type { ComparedMeasure } from '@rook-scale/core/comparing';
import { showCount } from '../../browser/format.ts';
import { showFixed } from '../../browser/numbers.ts';

export const measureNames: Record<ComparedMeasure['id'], string> = {
  cost: 'Cost per 1,000',
  area: 'AUC',
  sensitivity: 'Sensitivity',
  specificity: 'Specificity',
  accuracy: 'Called rightly',
};

/** Figures of a measure: costs whole, all others to the third digit. */
export const figureOf = (id: ComparedMeasure['id'], value: number): string =>
  id === 'cost' ? showCount(Math.round(value)) : showFixed(value, 3);

export function signed(id: ComparedMeasure['id'], value: number): string {
  const figure = figureOf(id, Math.abs(value));
  // Nearly nothing has no sign.
  return value < 0 && /[1-9]/.test(figure) ? `−${figure}` : figure;
}
