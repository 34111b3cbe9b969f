import type { LossName } from '@rook-scale/core/families';

export const lossWords: Record<LossName, string> = {
  'log loss': 'log loss',
  'Brier score': 'Brier score',
  'mean squared error': 'mean squared error',
};

/** Three figures, without a point where none is needed. */
export const short = (value: number): string =>
  Math.abs(value) >= 1000 ? String(Math.round(value)) : String(Number(value.toPrecision(3)));
