import { showDigits, showFixed } from '../../../browser/numbers.ts';
/** Three figures, without a point where none is needed. */
export const short = (value: number): string =>
  (Math.abs(value) >= 1000 ? showFixed(value, 0) : showDigits(value, 3)).replace('-', '−');
