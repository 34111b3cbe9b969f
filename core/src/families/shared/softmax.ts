import { logistic } from '../../numeric/index.ts';
import type { OutcomeKind, Predictions } from '../../outcome/index.ts';

/** Of each patient, shares that add up to 1 in the place of logarithms of them up to a constant. */
export function softmax(logs: Float64Array, width: number): Float64Array {
  for (let begin = 0; begin < logs.length; begin += width) {
    let most = -Infinity;
    for (let k = begin; k < begin + width; k++) most = Math.max(most, logs[k]);
    let total = 0;
    for (let k = begin; k < begin + width; k++) total += logs[k] = Math.exp(logs[k] - most);
    for (let k = begin; k < begin + width; k++) logs[k] /= total;
  }
  return logs;
}

/**
 * What scores say: log-odds of a yes/no outcome, logarithms of shares of levels, or a number.
 *
 * @param scores patients × levels, row-major, or one a patient; overwritten
 */
export function saidFrom(kind: OutcomeKind, levels: string[], scores: Float64Array): Predictions {
  if (kind === 'event') return { kind, risks: scores.map(logistic) };
  if (kind === 'number') return { kind, values: scores };
  return { kind, levels, shares: softmax(scores, levels.length) };
}
