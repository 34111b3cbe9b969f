import type { Inputs } from '../../inputs/index.ts';
import type { Predictions } from '../../outcome/index.ts';
import { saidFrom } from '../shared/index.ts';

/** Of each linear predictor the constant, then a coefficient for each input. */
export type Weights = ArrayLike<number>[];

/** The linear predictors of each patient. */
export function linearOf(weights: Weights, { rowCount, columns }: Inputs): Float64Array[] {
  return weights.map((own) => {
    const linear = new Float64Array(rowCount).fill(own[0]);
    columns.forEach((column, j) => {
      const by = own[j + 1];
      if (by !== 0) for (let row = 0; row < rowCount; row++) linear[row] += by * column[row];
    });
    return linear;
  });
}

/** What they say: a risk, a number, or shares of levels. */
export function saidBy(
  kind: Predictions['kind'],
  levels: string[],
  linear: Float64Array[],
): Predictions {
  const width = linear.length;
  const scores = new Float64Array(width * linear[0].length);
  linear.forEach((own, level) => own.forEach((one, row) => (scores[row * width + level] = one)));
  return saidFrom(kind, levels, scores);
}
