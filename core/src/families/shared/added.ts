import type { Inputs } from '../../preparation/index.ts';
import type { Added } from '../family.ts';

/**
 * What each input adds to a sum of one term an input, from what it adds among others on average: these are its
 * Shapley values, as nothing acts together.
 *
 * @param termOf of input j, what a value of it adds; undefined where it adds nothing
 */
export function addedTerms(
  scale: Added['scale'],
  constant: number,
  inputs: Inputs,
  compared: Inputs,
  termOf: (j: number) => ((value: number) => number) | undefined,
): Added {
  let base = constant;
  const values = inputs.columns.map((column, j) => {
    const term = termOf(j);
    if (!term) return new Float64Array(inputs.rowCount);
    let sum = 0;
    for (const value of compared.columns[j]) sum += term(value);
    const mean = compared.rowCount > 0 ? sum / compared.rowCount : 0;
    base += mean;
    return column.map((value) => term(value) - mean);
  });
  return { scale, base, values };
}

/** The same of a line: one slope an input, by which its value is multiplied. */
export const addedLine = (
  scale: Added['scale'],
  [constant, ...slopes]: ArrayLike<number> & Iterable<number>,
  inputs: Inputs,
  compared: Inputs,
): Added =>
  addedTerms(scale, constant, inputs, compared, (j) => {
    const slope = slopes[j];
    return slope === 0 ? undefined : (value) => slope * value;
  });
