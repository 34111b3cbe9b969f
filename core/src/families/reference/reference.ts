import * as z from 'zod';
import type { Outcome, OutcomeKind, Predictions } from '../../outcome/index.ts';
import type { Family, Fitted } from '../family.ts';
import { reference as description } from './description.ts';

const savedSchema = z.union([
  z.object({ prevalence: z.number().min(0).max(1) }),
  z.object({ levels: z.array(z.string()), shares: z.array(z.number().min(0).max(1)) }),
  z.object({ mean: z.number() }),
]);
type Known = z.infer<typeof savedSchema>;

/** Knows nothing of the patient: the share of events, the share of each level, or the mean. */
export const reference: Family = {
  description,

  fit(_inputs, outcome, _settings, { weights }) {
    const learn = learners[outcome.kind] as (outcome: Outcome, weights?: Float64Array) => Known;
    return {
      fitted: fitted(learn(outcome, weights)),
      warnings: [],
      describe: () => ({ facets: [], warnings: [] }),
    };
  },

  revive: ({ json }) => fitted(savedSchema.parse(json)),
};

const learners: {
  [K in OutcomeKind]: (outcome: Outcome<K>, weights?: Float64Array) => Known;
} = {
  event: ({ values }, weights) => ({ prevalence: weightedMean(values, weights) }),
  levels({ values, levels }, weights) {
    const counts = new Float64Array(levels.length);
    let total = 0;
    for (let i = 0; i < values.length; i++) {
      const weight = weights ? weights[i] : 1;
      counts[values[i]] += weight;
      total += weight;
    }
    return { levels, shares: Array.from(counts, (count) => (total > 0 ? count / total : 0)) };
  },
  number: ({ values }, weights) => ({ mean: weightedMean(values, weights) }),
};

function weightedMean(values: ArrayLike<number>, weights?: Float64Array): number {
  let total = 0;
  let sum = 0;
  for (let i = 0; i < values.length; i++) {
    const weight = weights ? weights[i] : 1;
    total += weight;
    sum += weight * values[i];
  }
  return total > 0 ? sum / total : 0;
}

function fitted(known: Known): Fitted {
  return {
    predict: ({ rowCount }) => predict(known, rowCount),
    save: () => ({ version: 1, json: known, arrays: {} }),
  };
}

function predict(known: Known, patients: number): Predictions {
  if ('prevalence' in known)
    return { kind: 'event', risks: new Float64Array(patients).fill(known.prevalence) };
  if ('mean' in known)
    return { kind: 'number', values: new Float64Array(patients).fill(known.mean) };
  const { levels } = known;
  const shares = new Float64Array(patients * levels.length);
  for (let i = 0; i < patients; i++) shares.set(known.shares, i * levels.length);
  return { kind: 'levels', levels, shares };
}
