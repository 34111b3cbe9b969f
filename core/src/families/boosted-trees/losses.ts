import { softplus } from '../../numeric/index.ts';
import type { Outcome } from '../../outcome/index.ts';

/** Log loss of each patient, or squared error, by scores of each level. */
export function lossesOf(outcome: Outcome, scores: Float64Array): Float64Array {
  const { kind, values } = outcome;
  if (kind === 'number') return values.map((value, row) => (scores[row] - value) ** 2);
  if (kind === 'event')
    return Float64Array.from(values, (value, row) =>
      softplus(value === 1 ? -scores[row] : scores[row]),
    );
  const levels = outcome.levels.length;
  return Float64Array.from(values, (level, row) => {
    const own = scores.subarray(row * levels, (row + 1) * levels);
    const most = Math.max(...own);
    const total = own.reduce((sum, score) => sum + Math.exp(score - most), 0);
    return most + Math.log(total) - own[level];
  });
}
