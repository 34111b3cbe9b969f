import * as z from 'zod';
import type { Inputs } from '../../inputs/index.ts';
import { centre } from './centred.ts';

/** Inputs that vary, and what makes their means 0 and their SDs (divisor n) 1; those on the analyst's scale stay. */
export const scalingSchema = z.object({
  inputs: z.array(z.string()),
  means: z.array(z.number()),
  factors: z.array(z.number()),
});
export type Scaling = z.infer<typeof scalingSchema>;

export function scalingOf(inputs: Inputs, weights?: Float64Array): Scaling {
  const { means, factors } = centre(inputs, weights);
  const kept = factors.flatMap((factor, j) => (factor > 0 ? [j] : []));
  return {
    inputs: kept.map((j) => inputs.names[j]),
    means: kept.map((j) => (inputs.scaled?.[j] ? 0 : means[j])),
    factors: kept.map((j) => (inputs.scaled?.[j] ? 1 : factors[j])),
  };
}

/** Patient after patient, their inputs so scaled. Throws where an input is not there. */
export function scaledRows(
  { inputs: kept, means, factors }: Scaling,
  inputs: Inputs,
): Float64Array {
  const rows = new Float64Array(inputs.rowCount * kept.length);
  kept.forEach((name, k) => {
    const j = inputs.names.indexOf(name);
    if (j < 0) throw new Error(`The model reads ${name}, which is not among the inputs.`);
    const column = inputs.columns[j];
    for (let row = 0; row < inputs.rowCount; row++)
      rows[row * kept.length + k] = (column[row] - means[k]) * factors[k];
  });
  return rows;
}
