import * as z from 'zod';
import type { Inputs } from '../../inputs/index.ts';
import type { Predictions } from '../../outcome/index.ts';
import type { NamedArrays } from '../../stored/index.ts';
import type { Family, Fitted, FitWarning } from '../family.ts';
import {
  addLogs,
  learnCounts,
  learnKernel,
  learnNormal,
  learnersOf,
  noInputs,
  priorsOf,
  sharesFromLogs,
  type Spread,
} from '../shared/index.ts';
import { densitiesFacet } from './densities-facet.ts';
import { naiveBayes as description } from './description.ts';

/**
 * Bayes' theorem with inputs that are independent in each level of the outcome (Hand & Yu 2001,
 * International Statistical Review 69:385-398). A gap says nothing, nor does a level that nobody had.
 */
export const naiveBayesFamily: Family = {
  description,

  fit(inputs, outcome, settings, { weights, progress }) {
    const learners = learnersOf(outcome, weights);
    const spreads = inputs.columns.map((column, j) => {
      const names = inputs.levels?.[j];
      progress?.((j + 1) / inputs.columns.length);
      if (names) return learnCounts(column, names, learners, Number(settings.added));
      return settings.numbers === 'kernel'
        ? learnKernel(column, learners)
        : learnNormal(column, learners);
    });
    const kept = spreads.flatMap((spread, j) =>
      spread ? [{ input: inputs.names[j], spread }] : [],
    );
    const model: Model = {
      kind: outcome.kind === 'levels' ? 'levels' : 'event',
      levels: outcome.kind === 'levels' ? outcome.levels : ['no', 'yes'],
      priors: priorsOf(outcome, settings, learners),
      kept,
    };
    return {
      fitted: fitted(model),
      warnings: warningsOf(inputs, model),
      describe: () => ({
        facets: kept.length > 0 ? [densitiesFacet(inputs, model)] : [],
        warnings: [],
      }),
    };
  },

  reads: ({ json }) => knownSchema.parse(json).inputs.map(({ input }) => input),

  revive: ({ json, arrays }) => fitted(unpack(knownSchema.parse(json), arrays)),
};

/** What has been learned. */
export interface Model {
  kind: 'event' | 'levels';
  levels: string[];
  priors: number[];
  kept: { input: string; spread: Spread }[];
}

const knownSchema = z.object({
  kind: z.enum(['event', 'levels']),
  levels: z.array(z.string()),
  priors: z.array(z.number()),
  inputs: z.array(
    z.object({
      input: z.string(),
      spread: z.discriminatedUnion('by', [
        z.object({
          by: z.literal('normal'),
          means: z.array(z.number()),
          deviations: z.array(z.number()),
          borrowed: z.array(z.number()),
        }),
        z.object({
          by: z.literal('counts'),
          levels: z.array(z.string()),
          shares: z.array(z.array(z.number())),
        }),
        /** By level, how many of the curves that stand one behind the other are its own. */
        z.object({
          by: z.literal('kernel'),
          widths: z.array(z.number()),
          counts: z.array(z.number()),
          borrowed: z.array(z.number()),
        }),
      ]),
    }),
  ),
});
type Known = z.infer<typeof knownSchema>;

function warningsOf({ names }: Inputs, { kept, levels }: Model): FitWarning[] {
  const left = names.filter((name) => !kept.some(({ input }) => input === name));
  if (kept.length === 0) return [noInputs('everybody gets what is said before anything is known')];
  const borrowed = kept.flatMap(({ input, spread }) =>
    spread.by === 'counts' || spread.borrowed.length === 0
      ? []
      : [`${input} (${spread.borrowed.map((level) => levels[level]).join(', ')})`],
  );
  return [
    ...(left.length > 0
      ? [
          {
            code: 'left out' as const,
            sentence: `Left out because fewer than two different values are known: ${left.join(', ')}.`,
            inputs: left,
          },
        ]
      : []),
    ...(borrowed.length > 0
      ? [
          {
            code: 'too few in a level' as const,
            sentence: `In some levels of the outcome fewer than two different values are known; how widely they vary there is taken from the other levels: ${borrowed.join('; ')}.`,
          },
        ]
      : []),
  ];
}

function fitted(model: Model): Fitted {
  return {
    predict: (inputs) => predict(model, inputs),
    save: () => ({ version: 1, ...pack(model) }),
  };
}

function predict({ kind, levels, priors, kept }: Model, inputs: Inputs): Predictions {
  const width = levels.length;
  const logs = new Float64Array(inputs.rowCount * width);
  const first = priors.map(Math.log);
  for (let row = 0, at = 0; row < inputs.rowCount; row++)
    for (let level = 0; level < width; level++) logs[at++] = first[level];
  for (const { input, spread } of kept) {
    const j = inputs.names.indexOf(input);
    if (j < 0) throw new Error(`The model reads ${input}, which is not among the inputs.`);
    for (let level = 0; level < width; level++)
      addLogs(spread, level, inputs.columns[j], logs, width);
  }
  return sharesFromLogs(kind, levels, logs);
}

function pack({ kind, levels, priors, kept }: Model): { json: Known; arrays: NamedArrays } {
  const centres: number[] = [];
  const masses: number[] = [];
  const inputs = kept.map(({ input, spread }) => {
    if (spread.by !== 'kernel') return { input, spread };
    for (const own of spread.centres) for (const one of own) centres.push(one);
    for (const own of spread.masses) for (const one of own) masses.push(one);
    const counts = spread.centres.map(({ length }) => length);
    return {
      input,
      spread: { by: 'kernel' as const, widths: spread.widths, counts, borrowed: spread.borrowed },
    };
  });
  const arrays: NamedArrays =
    centres.length > 0
      ? { centres: Float64Array.from(centres), masses: Float64Array.from(masses) }
      : {};
  return { json: { kind, levels, priors, inputs }, arrays };
}

function unpack({ inputs, ...known }: Known, arrays: NamedArrays): Model {
  let next = 0;
  const { centres, masses } = arrays as Record<string, Float64Array | undefined>;
  const kept = inputs.map(({ input, spread }): Model['kept'][number] => {
    if (spread.by !== 'kernel') return { input, spread };
    if (!centres || !masses) throw new Error('The curves of the model are missing.');
    const starts = spread.counts.map((count) => (next += count) - count);
    const parts = (of: Float64Array) =>
      spread.counts.map((count, level) => of.slice(starts[level], starts[level] + count));
    const { widths, borrowed } = spread;
    return {
      input,
      spread: { by: 'kernel', widths, borrowed, centres: parts(centres), masses: parts(masses) },
    };
  });
  return { ...known, kept };
}
