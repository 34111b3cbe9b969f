import * as z from 'zod';
import type { Outcome, OutcomeKind, Predictions } from '../../outcome/index.ts';
import type { Inputs } from '../../preparation/index.ts';
import {
  asEnsemble,
  binInputs,
  brierLoss,
  costLoss,
  endedAt,
  growTree,
  innerFolds,
  leavesOf,
  levelTarget,
  nodeCount,
  numberTarget,
  pathContributions,
  sharesOf,
  squaredLoss,
  triedSizes,
  type Criterion,
  type LeafLoss,
  type Sizes,
  type Target,
  type Tree,
} from '../../trees/index.ts';
import type { TreeShown } from '../facets.ts';
import type { Family, FitContext, Fitted, FitWarning } from '../family.ts';
import type { Settings } from '../settings.ts';
import { directionsOf, directionWarnings, leafCount, noInputs } from '../shared/index.ts';
import { decisionTree as description } from './description.ts';
import { treeShown } from './tree-shown.ts';

/** A classification or regression tree (Breiman, Friedman, Olshen & Stone 1984). */
export const decisionTree: Family = {
  description,

  fit(inputs, outcome, settings, context) {
    const { seed, weights } = context;
    const task = tasks[outcome.kind](outcome as never, settings, context);
    const binned = binInputs(inputs);
    const directions = directionsOf(inputs, outcome, settings);
    const rules = {
      depth: Number(settings.depth),
      leastNode: Math.max(Number(settings.leastNode), 2 * Number(settings.leastLeaf)),
      leastLeaf: Number(settings.leastLeaf),
      ...(directions && { directions: { of: directions, saysOf: task.saysOf } }),
    };
    const grow = (rows: Int32Array) => growTree(binned, task.target, rows, rules);
    const all = Int32Array.from({ length: inputs.rowCount }, (_, row) => row);
    const grown = grow(all);
    const compare = () =>
      triedSizes(grown, inputs, task.loss, grow, foldsFor(inputs, outcome, seed), weights);
    const isCompared = settings.size === 'simplest' || settings.size === 'best';
    const sizes = isCompared
      ? compare()
      : triedSizes(grown, inputs, task.loss, grow, undefined, weights);
    const chosen = chooseSize(sizes, settings);
    const { from } = sizes.sequence;
    const { tree, kept } = endedAt(grown, (node) => from[node] <= chosen);
    const known: Known = {
      kind: outcome.kind,
      drawn: Number(settings.drawn),
      reads: inputs.names.filter((_, j) => tree.input.includes(j)),
      leaves: sizes.sizes.map(({ leaves }) => leaves),
      ...task.known,
    };
    const ends = Int32Array.from(kept, (node) => from[node]);
    return {
      fitted: fitted(tree, ends, known),
      size: { leaves: leafCount(tree) },
      warnings: [
        ...warningsOf(inputs, tree, task.lossName),
        ...directionWarnings(inputs, outcome, settings),
      ],
      describe: () => ({
        facets: [
          {
            kind: 'tree',
            value: treeShown(
              inputs,
              outcome,
              grown,
              isCompared ? sizes : compare(),
              chosen,
              known,
              task.lossName,
            ),
          },
        ],
        warnings: [],
      }),
    };
  },

  reads: ({ json }) => knownSchema.parse(json).reads,

  revive({ json, arrays }) {
    const { ends, ...tree } = arraysSchema.parse(arrays);
    return fitted(tree, ends, knownSchema.parse(json));
  },
};

const knownSchema = z.object({
  kind: z.enum(['event', 'levels', 'number']),
  levels: z.array(z.string()).optional(),
  /** Of a number: what its sums are about. */
  mean: z.number().optional(),
  drawn: z.number(),
  /** Leaves of each tree of the pruning sequence; absent in trees from before they were kept. */
  leaves: z.array(z.number()).optional(),
  /** Names of the inputs that any question is about. */
  reads: z.array(z.string()),
});
export type Known = z.infer<typeof knownSchema>;

interface Task {
  target: Target;
  loss: LeafLoss;
  lossName: TreeShown['loss'];
  known: Pick<Known, 'levels' | 'mean'>;
  /** What a node with these sums says of an event or a number, where all patients have those. */
  saysOf: (sums: Float64Array, all: Float64Array) => number;
}

const tasks: {
  [K in OutcomeKind]: (outcome: Outcome<K>, settings: Settings, context: FitContext) => Task;
} = {
  event: ({ values }, settings, context) => levelTask(values, 2, settings, context),
  levels: ({ values, levels }, settings, context) => ({
    ...levelTask(values, levels.length, settings, context),
    known: { levels },
  }),
  number({ values }, _settings, { weights }) {
    let [weight, sum] = [0, 0];
    for (let i = 0; i < values.length; i++) {
      const own = weights ? weights[i] : 1;
      weight += own;
      sum += own * values[i];
    }
    const mean = weight > 0 ? sum / weight : 0;
    const about = values.map((value) => value - mean);
    return {
      target: numberTarget(about, weights),
      loss: squaredLoss(about, weights),
      lossName: 'squared error',
      known: { mean },
      saysOf: (sums) => sums[1] / sums[0],
    };
  },
};

function levelTask(
  codes: ArrayLike<number>,
  levels: number,
  { criterion, drawn, prunedBy, costsInSplits }: Settings,
  { weights, costs }: FitContext,
): Task {
  const rowCosts = costs?.map((row) => row.reduce((sum, one) => sum + one, 0));
  return {
    target: levelTarget(codes, levels, criterion as Criterion, {
      weights,
      ...(costsInSplits === true && rowCosts && { costs: rowCosts }),
    }),
    ...(prunedBy === 'error costs' && costs
      ? { loss: costLoss(codes, costs), lossName: 'error cost' }
      : { loss: brierLoss(codes, levels, Number(drawn)), lossName: 'Brier score' }),
    known: {},
    saysOf: ([without, having], [allWithout, allHaving]) =>
      (having + (Number(drawn) * allHaving) / (allWithout + allHaving)) /
      (without + having + Number(drawn)),
  };
}

const manyPatients = 10_000;

/** Ten inner folds, five where patients are many; none where there are too few for two. */
function foldsFor(inputs: Inputs, { kind, values }: Outcome, seed: number): Uint8Array | undefined {
  if (inputs.rowCount < 4) return undefined;
  const count = Math.min(inputs.rowCount > manyPatients ? 5 : 10, Math.floor(inputs.rowCount / 2));
  const strata = kind === 'number' ? new Uint8Array(values.length) : values;
  return innerFolds(inputs, strata, values, count, seed);
}

function chooseSize({ sizes, best, simplest }: Sizes, { size, leaves }: Settings): number {
  if (size === 'best') return best;
  if (size === 'simplest') return simplest;
  // Where every leaf that was grown is wanted, so are those that part patients alike in the outcome.
  if (size === 'all') return -1;
  return sizes.findIndex((one) => one.leaves <= Number(leaves));
}

function warningsOf({ columns }: Inputs, tree: Tree, loss: TreeShown['loss']): FitWarning[] {
  const everybody = 'everybody gets what all have';
  if (columns.length === 0) return [noInputs(everybody)];
  if (nodeCount(tree) > 1) return [];
  return [
    {
      code: 'no split',
      sentence:
        loss === 'error cost'
          ? `No question lowers what errors cost in others, so ${everybody}. Compare sizes by the Brier score, or look at the costs in Design.`
          : `No question parts these patients in a way that holds in others: ${everybody}.`,
    },
  ];
}

/** @param ends of each node, the first tree of the pruning sequence in which it is a leaf */
function fitted(tree: Tree, ends: Int32Array | undefined, known: Known): Fitted {
  return {
    predict: (inputs, along) => predict(upTo(tree, ends, known, along), known, inputs),
    added(inputs, compared, counted = [known.kind === 'number' ? 0 : 1]) {
      const [one, saysOf] = [asEnsemble(tree), saidBy(tree, known)];
      const said = (place: number) => sumAt(saysOf(one.values[place]), counted);
      return { scale: 'said', ...pathContributions(one, inputs, compared, said) };
    },
    save: () => ({ version: 1, json: known, arrays: { ...tree, ...(ends && { ends }) } }),
  };
}

/** The largest tree of the sequence with no more leaves. */
function upTo(
  tree: Tree,
  ends: Int32Array | undefined,
  { leaves }: Known,
  most: number | undefined,
): Tree {
  if (most === undefined || !ends || !leaves) return tree;
  const place = leaves.findIndex((count) => count <= most);
  return endedAt(tree, (node) => ends[node] <= place).tree;
}

const sumAt = (said: ArrayLike<number>, places: number[]) =>
  places.reduce((sum, k) => sum + said[k], 0);

/** What a node says: one number, or the share of each level. */
const saidBy = (
  tree: Tree,
  { kind, levels, mean = 0, drawn }: Known,
): ((node: number) => ArrayLike<number>) =>
  kind === 'number'
    ? (node) => [mean + tree.sums[2 * node + 1] / tree.sums[2 * node]]
    : (node) => sharesOf(tree, node, levels?.length ?? 2, drawn);

function predict(tree: Tree, known: Known, inputs: Inputs): Predictions {
  const { kind, levels = [] } = known;
  const leaves = leavesOf(tree, inputs);
  const saysOf = saidBy(tree, known);
  const said = Array.from({ length: nodeCount(tree) }, (_, node) => saysOf(node));
  const ofEach = (k: number) => Float64Array.from(leaves, (leaf) => said[leaf][k]);
  if (kind === 'number') return { kind, values: ofEach(0) };
  if (kind === 'event') return { kind, risks: ofEach(1) };
  const all = new Float64Array(inputs.rowCount * levels.length);
  leaves.forEach((leaf, row) => all.set(said[leaf], row * levels.length));
  return { kind, levels, shares: all };
}

const arraysSchema = z.object({
  input: z.instanceof(Int32Array),
  left: z.instanceof(Int32Array),
  right: z.instanceof(Int32Array),
  threshold: z.instanceof(Float64Array),
  gapsLeft: z.instanceof(Uint8Array),
  sets: z.instanceof(Int32Array),
  goesLeft: z.instanceof(Uint8Array),
  sums: z.instanceof(Float64Array),
  gain: z.instanceof(Float64Array),
  ends: z.instanceof(Int32Array).optional(),
});
