import * as z from 'zod';
import type { Family, Fitted } from '../family.ts';

const savedSchema = z.object({ prevalence: z.number().min(0).max(1) });

/** Knows nothing of the patient: every risk is the share of events among development patients. */
export const reference: Family = {
  id: 'reference',
  name: 'Reference',
  about: 'Gives every patient the share of events among the development patients.',
  settings: [],
  blind: true,

  fit(inputs, events, _settings, { weights }) {
    let total = 0;
    let withEvent = 0;
    for (let i = 0; i < inputs.rowCount; i++) {
      const weight = weights ? weights[i] : 1;
      total += weight;
      withEvent += weight * events[i];
    }
    return fitted(total > 0 ? withEvent / total : 0);
  },

  revive: (json) => fitted(savedSchema.parse(json).prevalence),
};

function fitted(prevalence: number): Fitted {
  return {
    predict: (inputs) => new Float64Array(inputs.rowCount).fill(prevalence),
    toJSON: () => ({ prevalence }),
    warnings: [],
  };
}
