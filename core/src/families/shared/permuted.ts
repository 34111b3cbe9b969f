import { randomStream, z95 } from '../../numeric/index.ts';
import type { Inputs } from '../../preparation/index.ts';
import type { ImportanceShown } from '../facets.ts';

/** Times that the values of each input are dealt anew. */
const repeats = 3;

/**
 * How much the loss of each patient rises when the values of one input are dealt anew among patients
 * (Breiman 2001, Machine Learning 45:5-32), with 95% intervals by the spread among patients.
 *
 * @param inputs of patients whom the model has not learned from
 * @param lossesOf loss of each of them if their inputs were these
 * @param gains what the splits of each input gained
 * @param weights of patients; all 1 where absent
 */
export function permutedImportance(
  inputs: Inputs,
  lossesOf: (inputs: Inputs) => Float64Array,
  gains: ArrayLike<number>,
  seed: number,
  weights?: Float64Array,
): ImportanceShown['inputs'] {
  const { rowCount, names, columns } = inputs;
  const plain = lossesOf(inputs);
  const total = Array.from(gains).reduce((sum, one) => sum + one, 0);
  const shown = names.map((input, j): ImportanceShown['inputs'][number] => {
    // What no tree asks about changes nothing.
    if (gains[j] === 0) return { input, rise: 0, interval: [0, 0], gained: 0 };
    const draw = randomStream(seed, `dealt anew: ${input}`);
    const rises = new Float64Array(rowCount);
    for (let repeat = 0; repeat < repeats; repeat++) {
      const dealt = columns[j].slice();
      for (let i = rowCount - 1; i > 0; i--) {
        const k = Math.floor((i + 1) * draw.uniform());
        [dealt[i], dealt[k]] = [dealt[k], dealt[i]];
      }
      const losses = lossesOf({ ...inputs, columns: columns.with(j, dealt) });
      for (let i = 0; i < rowCount; i++) rises[i] += (losses[i] - plain[i]) / repeats;
    }
    const { mean, error } = meanOf(rises, weights);
    return {
      input,
      rise: mean,
      interval: [mean - z95 * error, mean + z95 * error],
      gained: gains[j] / total,
    };
  });
  return shown.sort((one, other) => other.rise - one.rise || other.gained - one.gained);
}

/** Weighted mean, and its standard error if the weights were given before the values were seen. */
export function meanOf(
  values: Float64Array,
  weights: ArrayLike<number> = new Uint8Array(values.length).fill(1),
): { mean: number; error: number } {
  let [total, sum] = [0, 0];
  for (let i = 0; i < values.length; i++) {
    total += weights[i];
    sum += weights[i] * values[i];
  }
  const mean = sum / total;
  let squares = 0;
  for (let i = 0; i < values.length; i++) squares += (weights[i] * (values[i] - mean)) ** 2;
  const few = values.length > 1 ? values.length / (values.length - 1) : 0;
  return { mean, error: Math.sqrt(squares * few) / total };
}
