import * as z from 'zod';
import { takeOutcome, type Outcome } from '../../outcome/index.ts';
import { takeInputs, type Inputs } from '../../preparation/index.ts';
import {
  addLeaves,
  alteredSums,
  binInputs,
  boost,
  pathContributions,
  stableOrder,
  type Boosted,
  type BoostRules,
  type Ensemble,
  type MeanLoss,
} from '../../trees/index.ts';
import type { Facet, LossCurve, LossName } from '../facets.ts';
import type { Family, FitContext, Fitted, FitWarning } from '../family.ts';
import type { Settings } from '../settings.ts';
import {
  askedInputs,
  byName,
  directionsOf,
  directionWarnings,
  ensembleSize,
  fewestToPart,
  keptEnsemble,
  noInputs,
  permutedImportance,
  saidFrom,
  watchedOf,
} from '../shared/index.ts';
import { boostedTrees as description } from './description.ts';
import { lossesOf } from './losses.ts';

/** Boosted trees on second-order gains; see `boost`. */
export const boostedTrees: Family = {
  description,

  fit(inputs, outcome, settings, context) {
    const { seed, weights } = context;
    const binned = binInputs(inputs);
    const rules = rulesOf(inputs, outcome, settings);
    const task = {
      binned,
      outcome,
      weights,
      seed,
      ...(rules.rowShare < 1 && { order: stableOrder(inputs, outcome.values, seed) }),
      ...(rules.columnShare < 1 && { columnOrder: byName(inputs.names) }),
    };
    const canWatch = inputs.rowCount >= fewestToPart;
    const isTried = settings.until === 'best' && canWatch;
    const patience = isTried ? Number(settings.patience) : undefined;
    // Where the number of trees is tried first, that is half of it.
    const half = isTried ? 0.5 : 0;
    const progress = (share: number) => context.progress?.(half + (1 - half) * share);
    const watch = (): Tried => {
      const watched = watchedOf(inputs, outcome, seed);
      const aside = (share: number, losses: MeanLoss[]) => {
        context.progress?.(half * share);
        context.learning?.(() => curveOf(outcome, losses));
      };
      return { ...boost({ ...task, watched, patience, progress: aside }, rules), watched };
    };
    const tried = isTried ? watch() : undefined;
    const rounds = tried?.best ?? rules.rounds;
    const model = boost({ ...task, progress }, { ...rules, rounds });
    const known: Known = {
      kind: outcome.kind,
      ...(outcome.kind === 'levels' && { levels: outcome.levels }),
      start: Array.from(model.start),
      reads: askedInputs(model.ensemble, inputs.names),
    };
    return {
      fitted: fitted(model.ensemble, known),
      size: ensembleSize(model.ensemble),
      warnings: warningsOf(inputs, outcome, settings, model),
      describe: () => ({
        facets:
          canWatch && inputs.columns.length > 0
            ? facetsOf(inputs, outcome, context, { ...(tried ?? watch()), rounds })
            : [],
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
  /** Scores before any tree. */
  start: z.array(z.number()),
  /** Names of the inputs that any question is about. */
  reads: z.array(z.string()),
});
type Known = z.infer<typeof knownSchema>;

function rulesOf(inputs: Inputs, outcome: Outcome, settings: Settings): BoostRules {
  const directions = directionsOf(inputs, outcome, settings);
  return {
    rounds: Number(settings.trees),
    learningRate: Number(settings.learningRate),
    depth: Number(settings.depth),
    l2: Number(settings.l2),
    leastWeight: Number(settings.leastWeight),
    rowShare: Number(settings.rowShare),
    columnShare: Number(settings.columnShare),
    ...(directions && { directions }),
  };
}

/** With some of the patients watched. */
type Tried = Boosted & { watched: Uint8Array };

function warningsOf(
  inputs: Inputs,
  outcome: Outcome,
  settings: Settings,
  { ensemble }: Boosted,
): FitWarning[] {
  const everybody = 'everybody gets what all have';
  if (inputs.columns.length === 0) return [noInputs(everybody)];
  const warnings: FitWarning[] = [];
  if (ensemble.starts.length < 2)
    warnings.push({
      code: 'no split',
      sentence: `No tree makes the inner fold any better: ${everybody}.`,
    });
  return [...warnings, ...directionWarnings(inputs, outcome, settings)];
}

const lossName = ({ kind }: Outcome): LossName =>
  kind === 'number' ? 'mean squared error' : 'log loss';

/** The loss along the trees; the best of those until then is chosen. */
function curveOf(outcome: Outcome, losses: MeanLoss[]): LossCurve {
  const watched = losses.map((one) => one.watched);
  return {
    along: 'trees',
    loss: lossName(outcome),
    at: losses.map((_, round) => round),
    lines: [
      { whose: 'learned from', values: losses.map(({ learned }) => learned) },
      { whose: 'inner fold', values: watched },
    ],
    plain: watched[0],
    chosen: watched.indexOf(Math.min(...watched)),
  };
}

/** Most patients in whom the importance of inputs is tried. */
const mostTried = 5000;

function facetsOf(
  inputs: Inputs,
  outcome: Outcome,
  { seed, weights }: FitContext,
  tried: Tried & { rounds: number },
): Facet[] {
  const { losses, watched, rounds, ensemble, start, gains } = tried;
  const others = [...watched.keys()].filter((row) => watched[row] === 1);
  const every = Math.ceil(others.length / mostTried);
  const rows = Int32Array.from(others.filter((_, i) => i % every === 0));
  const some = takeInputs(inputs, rows);
  const theirs = takeOutcome(outcome, rows);
  const groups = start.length;
  const curve: Facet = { kind: 'curve', value: { ...curveOf(outcome, losses), chosen: rounds } };
  if (rounds === 0) return [curve];
  return [
    curve,
    {
      kind: 'importance',
      value: {
        loss: lossName(outcome),
        patients: rows.length,
        whose: 'inner fold',
        inputs: permutedImportance(
          some,
          (changed) => lossesOf(theirs, scoresOf(ensemble, start, changed, rounds * groups)),
          gains,
          seed,
          weights && Float64Array.from(rows, (row) => weights[row]),
        ),
      },
    },
  ];
}

function fitted(ensemble: Ensemble, known: Known): Fitted {
  return {
    predict: (inputs, along) =>
      saidFrom(
        known.kind,
        known.levels ?? [],
        scoresOf(ensemble, known.start, inputs, along && along * known.start.length),
      ),
    predictAltered(inputs, alternatives) {
      const { kind, levels = [], start } = known;
      const begin = (rowCount: number) => startsOf(start, rowCount);
      return alteredSums(ensemble, inputs, alternatives, begin, { groups: start.length }).map(
        (scores) => saidFrom(kind, levels, scores),
      );
    },
    added(inputs, compared) {
      if (known.kind === 'levels') return undefined;
      const { base, values } = pathContributions(ensemble, inputs, compared);
      const scale = known.kind === 'number' ? 'said' : 'log-odds';
      return { scale, base: known.start[0] + base, values };
    },
    save: () => ({ version: 1, json: known, arrays: { ...ensemble } }),
  };
}

/** @param upTo trees that are asked, all where absent */
function scoresOf(
  ensemble: Ensemble,
  start: ArrayLike<number>,
  inputs: Inputs,
  upTo?: number,
): Float64Array {
  const groups = start.length;
  const scores = startsOf(start, inputs.rowCount);
  addLeaves(ensemble, inputs, scores, { groups, ...(upTo !== undefined && { upTo }) });
  return scores;
}

/** What the scores of patients are before any tree. */
function startsOf(start: ArrayLike<number>, rowCount: number): Float64Array {
  const groups = start.length;
  const scores = new Float64Array(rowCount * groups);
  for (let row = 0; row < rowCount; row++) scores.set(start, row * groups);
  return scores;
}
