import type { Inputs } from '../../preparation/index.ts';

/** From this many patients on, a sample is fitted first. */
export const largeCohort = 20_000;
const sampleEvery = 16;

/** Every sixteenth patient: where a large cohort's steps begin, so that two or three are left. */
export function sampleOf(
  inputs: Inputs,
  outcome: ArrayLike<number>,
): { inputs: Inputs; outcome: Float64Array } {
  const rows = Math.floor(inputs.rowCount / sampleEvery);
  const every = (values: ArrayLike<number>) => {
    const some = new Float64Array(rows);
    for (let i = 0; i < rows; i++) some[i] = values[i * sampleEvery];
    return some;
  };
  return {
    inputs: { rowCount: rows, names: inputs.names, columns: inputs.columns.map(every) },
    outcome: every(outcome),
  };
}
