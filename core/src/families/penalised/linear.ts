import type { Inputs } from '../../inputs/index.ts';
import type { Predictions } from '../../outcome/index.ts';
import { logistic } from '../../numeric/index.ts';

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
  const [first] = linear;
  if (kind === 'event') return { kind, risks: first.map(logistic) };
  if (kind === 'number') return { kind, values: first };
  const shares = new Float64Array(first.length * linear.length);
  for (let row = 0; row < first.length; row++) {
    let most = -Infinity;
    for (const own of linear) if (own[row] > most) most = own[row];
    let total = 0;
    for (const own of linear) total += Math.exp(own[row] - most);
    linear.forEach((own, level) => {
      shares[row * linear.length + level] = Math.exp(own[row] - most) / total;
    });
  }
  return { kind, levels, shares };
}
