import * as z from 'zod';
import type { Predictions } from '../../outcome/index.ts';
import type { Inputs } from '../../preparation/index.ts';
import {
  addLeaves,
  alteredSums,
  binCodes,
  growForest,
  pathContributions,
  stableOrder,
  treeCount,
  type Ensemble,
  type ForestTask,
  type Leaf,
  type Sampling,
} from '../../trees/index.ts';
import type { Added, Family, Fitted, FitWarning } from '../family.ts';
import type { Outcome } from '../../outcome/index.ts';
import type { Settings } from '../settings.ts';
import {
  askedInputs,
  byName,
  directionsOf,
  directionWarnings,
  ensembleSize,
  keptEnsemble,
  noInputs,
} from '../shared/index.ts';
import { randomForest as description } from './description.ts';
import { forestFacets } from './forest-facets.ts';
import { bringBack, forestAims } from './tasks.ts';

/** A random forest (Breiman 2001); thresholds at random after Geurts, Ernst & Wehenkel 2006. */
export const randomForest: Family = {
  description,

  fit(inputs, outcome, settings, context) {
    const { seed, progress } = context;
    const aims = forestAims(outcome, settings, context);
    const task: ForestTask = {
      binned: binCodes(inputs),
      target: aims.target,
      sampling: samplingOf(outcome, settings),
      order: stableOrder(inputs, outcome.values, seed),
      columnOrder: byName(inputs.names),
      leaf: aims.leaf,
      seed,
      progress,
    };
    const directions = directionsOf(inputs, outcome, settings);
    const rules = {
      depth: Number(settings.depth),
      leastLeaf: Number(settings.leastLeaf),
      tries: triesOf(inputs, outcome, settings),
      isShare: aims.isShare,
      randomThresholds: settings.thresholds === 'random',
      ...(directions && { directions: { of: directions, saysOf: saidBy(aims.leaf) } }),
    };
    const trees = inputs.columns.length > 0 ? Number(settings.trees) : 0;
    const forest = growForest(task, rules, trees);
    const known: Known = {
      kind: outcome.kind,
      ...(outcome.kind === 'levels' && { levels: outcome.levels }),
      plain: Array.from(aims.plain),
      ...(aims.standsFor && { standsFor: aims.standsFor }),
      reads: askedInputs(forest.ensemble, inputs.names),
    };
    return {
      fitted: fitted(forest.ensemble, known),
      size: ensembleSize(forest.ensemble),
      warnings: [
        ...warningsOf(inputs, forest.ensemble),
        ...directionWarnings(inputs, outcome, settings),
      ],
      describe: () => ({
        facets: trees > 0 ? forestFacets(inputs, outcome, aims, task, forest) : [],
        warnings: [],
      }),
    };
  },

  reads: ({ json }) => knownSchema.parse(json).reads,

  revive: ({ json, arrays }) => fitted(keptEnsemble(arrays), knownSchema.parse(json)),
};

const knownSchema = z.object({
  kind: z.enum(['event', 'levels', 'number']),
  levels: z.array(z.string()).optional(),
  /** What is said without any tree. */
  plain: z.array(z.number()),
  /** How many patients a drawn one of each level stands for. */
  standsFor: z.array(z.number()).optional(),
  /** Names of the inputs that any question is about. */
  reads: z.array(z.string()),
});
type Known = z.infer<typeof knownSchema>;

/** What a leaf says of an event or a number. */
function saidBy(leaf: Leaf): (sums: Float64Array) => number {
  const said = new Float64Array(leaf.width);
  return (sums) => {
    leaf.valuesOf(sums, said);
    return said[0];
  };
}

function samplingOf(outcome: Outcome, { drawnBy, share }: Settings): Sampling {
  if (drawnBy === 'share') return { way: 'share', share: Number(share) };
  if (drawnBy !== 'balanced' || outcome.kind === 'number') return { way: 'bootstrap' };
  const count = outcome.kind === 'event' ? 2 : outcome.levels.length;
  return { way: 'balanced', levels: outcome.values, count };
}

function triesOf({ columns }: Inputs, { kind }: Outcome, settings: Settings): number {
  if (settings.triesBy === 'given') return Number(settings.tries);
  const { length } = columns;
  return Math.max(1, Math.floor(kind === 'number' ? length / 3 : Math.sqrt(length)));
}

function warningsOf({ columns }: Inputs, { input }: Ensemble): FitWarning[] {
  const everybody = 'everybody gets what all have';
  if (columns.length === 0) return [noInputs(everybody)];
  if (input.some((j) => j >= 0)) return [];
  return [{ code: 'no split', sentence: `No tree finds a question to ask: ${everybody}.` }];
}

function fitted(ensemble: Ensemble, known: Known): Fitted {
  return {
    predict: (inputs, along) => predict(ensemble, known, inputs, along),
    predictAltered: (inputs, alternatives) => predictAltered(ensemble, known, inputs, alternatives),
    added: (inputs, compared, counted) => added(ensemble, known, inputs, compared, counted),
    save: () => ({ version: 1, json: known, arrays: { ...ensemble } }),
  };
}

function added(
  ensemble: Ensemble,
  { standsFor }: Known,
  inputs: Inputs,
  compared: Inputs,
  counted: number[] = [0],
): Added | undefined {
  const trees = treeCount(ensemble);
  // Brought back to the shares of all, the mean of trees is not what is said.
  if (trees === 0 || standsFor) return undefined;
  const said = (place: number) =>
    counted.reduce((sum, k) => sum + ensemble.values[place + k], 0) / trees;
  return { scale: 'said', ...pathContributions(ensemble, inputs, compared, said) };
}

function predict(ensemble: Ensemble, known: Known, inputs: Inputs, along?: number): Predictions {
  const width = known.plain.length;
  const trees = Math.min(along ?? Infinity, treeCount(ensemble));
  const sums = new Float64Array(inputs.rowCount * width);
  addLeaves(ensemble, inputs, sums, { width, upTo: trees });
  return saidFrom(known, sums, trees);
}

function predictAltered(
  ensemble: Ensemble,
  known: Known,
  inputs: Inputs,
  alternatives: Inputs[],
): Predictions[] {
  const width = known.plain.length;
  const none = (rowCount: number) => new Float64Array(rowCount * width);
  return alteredSums(ensemble, inputs, alternatives, none, { width }).map((sums) =>
    saidFrom(known, sums, treeCount(ensemble)),
  );
}

/** @param sums of leaves, patients × width; become what is said */
function saidFrom(
  { kind, levels = [], plain, standsFor }: Known,
  sums: Float64Array,
  trees: number,
): Predictions {
  const width = plain.length;
  if (trees === 0) for (let at = 0; at < sums.length; at += width) sums.set(plain, at);
  else {
    for (let at = 0; at < sums.length; at++) sums[at] /= trees;
    if (standsFor) bringBack(sums, width, standsFor);
  }
  if (kind === 'event') return { kind, risks: sums };
  return kind === 'number' ? { kind, values: sums } : { kind, levels, shares: sums };
}
