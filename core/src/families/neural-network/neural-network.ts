import * as z from 'zod';
import { networkRoom, parametersOf, type NetworkTask } from '../../numeric/index.ts';
import type { Inputs } from '../../inputs/index.ts';
import type { Outcome } from '../../outcome/index.ts';
import { stableOrder } from '../../trees/index.ts';
import type { Facet, LossCurve } from '../facets.ts';
import { FitObstacle, type Family, type Fitted, type FitWarning } from '../family.ts';
import type { Settings } from '../settings.ts';
import {
  fewestToPart,
  noInputs,
  oneOutcome,
  saidFrom,
  scaledRows,
  scalingOf,
  scalingSchema,
  watchedOf,
} from '../shared/index.ts';
import { neuralNetwork as description } from './description.ts';
import { outputsOf } from './layers.ts';
import { meanLoss, train, type Trained, type TrainRules } from './train.ts';

/**
 * Units that bend weighted sums (tanh), in layers; log loss or squared error with weight decay (Rumelhart,
 * Hinton & Williams 1986, Nature 323:533-536; Bishop 1995).
 */
export const neuralNetworkFamily: Family = {
  description,

  fit(inputs, outcome, settings, { seed, weights, progress, learning }) {
    const task = taskOf(inputs, outcome, settings, weights);
    const { known, network } = task;
    if (network.sizes[0] === 0 || isConstant(outcome)) return plainResult(known, network);
    const room = networkRoom(network);
    const rules: TrainRules = {
      epochs: Number(settings.epochs),
      until: Number(settings.epochs),
      decay: Number(settings.decay),
      rate: Number(settings.rate),
      seed,
      plain: withoutSlopes(known, network),
    };
    const order = stableOrder(inputs, outcome.values, seed);
    const starts = Array.from({ length: Number(settings.starts) }, (_, start) => start);
    const isWatched = settings.early === true && inputs.rowCount >= fewestToPart;
    const share = 1 / (starts.length + (isWatched ? 1 : 0));
    const watched = isWatched ? watchedOf(inputs, outcome, seed) : undefined;
    const learn = order.filter((row) => watched?.[row] !== 1);
    const others = order.filter((row) => watched?.[row] === 1);
    room.parameters.set(rules.plain);
    const plain = meanLoss(room, network, isWatched ? others : order);
    const tried = starts.map((start) =>
      train(room, network, learn, others, start, rules, (done, soFar) => {
        progress?.((start + done) * share);
        learning?.(() => curveOf(known, soFar, plain));
      }),
    );
    const judged = ({ watched, learned }: Trained) =>
      isWatched ? Math.min(...watched) : learned[learned.length - 1];
    const chosen = leastAt(tried.map(judged));
    const own = tried[chosen];
    const best = isWatched ? (judged(own) < plain ? leastAt(own.watched) : 0) : rules.epochs;
    const again = (until: number) =>
      train(room, network, order, new Int32Array(0), chosen, { ...rules, until }, (done) =>
        progress?.(1 - share + done * share),
      );
    const final = !isWatched ? own : best === 0 ? { ...own, parameters: rules.plain } : again(best);
    if (!final.parameters.every(Number.isFinite))
      throw new FitObstacle('The network lost all digits: give a smaller learning rate.');
    return {
      fitted: fitted(known, final.parameters),
      warnings: warningsOf(own, best, rules.epochs, isWatched),
      describe: () => ({
        facets: facetsOf(known, final.parameters, own, plain, best, rules.epochs),
        warnings: [],
      }),
    };
  },

  reads: ({ json }) => knownSchema.parse(json).scaling.inputs,

  revive({ json, arrays: { parameters } }) {
    const known = knownSchema.parse(json);
    if (!(parameters instanceof Float64Array)) throw new Error('The weights are missing.');
    return fitted(known, parameters);
  },
};

const knownSchema = z.object({
  kind: z.enum(['event', 'levels', 'number']),
  levels: z.array(z.string()).optional(),
  scaling: scalingSchema,
  /** Of layers: inputs, hidden units, outputs. */
  sizes: z.array(z.number()).min(2),
  /** Of a number: what the output 0 is, and 1 more of it. */
  middle: z.number(),
  spread: z.number(),
});
type Known = z.infer<typeof knownSchema>;

function taskOf(inputs: Inputs, outcome: Outcome, settings: Settings, given?: Float64Array) {
  const scaling = scalingOf(inputs, given);
  const width = scaling.inputs.length;
  const outputs = outcome.kind === 'levels' ? outcome.levels.length : 1;
  const hidden = Array<number>(Number(settings.layers)).fill(Number(settings.units));
  const values = Float64Array.from(outcome.values);
  const count = values.length;
  const total = given ? given.reduce((sum, one) => sum + one, 0) : count;
  // So that they are 1 on average, and the rate means the same with them as without.
  const weights = given
    ? given.map((one) => (one * count) / total)
    : new Float64Array(count).fill(1);
  const mean = values.reduce((sum, one, i) => sum + weights[i] * one, 0) / count;
  const squares = values.reduce((sum, one, i) => sum + weights[i] * (one - mean) ** 2, 0);
  const isNumber = outcome.kind === 'number';
  const known: Known = {
    kind: outcome.kind,
    ...(outcome.kind === 'levels' && { levels: outcome.levels }),
    scaling,
    sizes: [width, ...hidden, outputs],
    middle: isNumber ? mean : 0,
    spread: isNumber ? Math.sqrt(squares / count) || 1 : 1,
  };
  const network: NetworkTask = {
    rows: scaledRows(scaling, inputs),
    outcome: isNumber ? values.map((one) => (one - mean) / known.spread) : values,
    weights,
    kind: outcome.kind,
    sizes: known.sizes,
  };
  return { known, network };
}

/** Everybody gets what all have: no inputs, or no epoch that makes others fare better. */
function withoutSlopes({ kind, sizes }: Known, { outcome, weights }: NetworkTask): Float64Array {
  const parameters = new Float64Array(parametersOf(sizes));
  const outputs = sizes[sizes.length - 1];
  const step = sizes[sizes.length - 2] + 1;
  const first = parameters.length - outputs * step;
  if (kind === 'number') return parameters;
  const sums = new Float64Array(Math.max(2, outputs));
  outcome.forEach((code, row) => (sums[code] += weights[row]));
  // A level that no patient has would start at minus infinity.
  const floor = leastShare * sums.reduce((total, sum) => total + sum, 0);
  const logs = sums.map((sum) => Math.log(Math.max(sum, floor)));
  if (kind === 'event') parameters[first] = logs[1] - logs[0];
  else for (let k = 0; k < outputs; k++) parameters[first + k * step] = logs[k];
  return parameters;
}

const leastShare = 1e-9;

function isConstant({ values }: Outcome): boolean {
  for (let row = 1; row < values.length; row++) if (values[row] !== values[0]) return false;
  return true;
}

function plainResult(known: Known, network: NetworkTask): ReturnType<Family['fit']> {
  return {
    fitted: fitted(known, withoutSlopes(known, network)),
    warnings: [
      known.scaling.inputs.length === 0 ? noInputs('everybody gets what all have') : oneOutcome,
    ],
    describe: () => ({ facets: [], warnings: [] }),
  };
}

const leastAt = (values: number[]): number => values.indexOf(Math.min(...values));

function warningsOf(
  { watched }: Trained,
  epochs: number,
  most: number,
  isWatched: boolean,
): FitWarning[] {
  if (isWatched && epochs === 0)
    return [
      {
        code: 'no split',
        sentence:
          'No epoch makes patients who are not learned from fare any better: everybody gets what all have.',
      },
    ];
  if (isWatched && epochs === most && watched[most] < watched[most - 1])
    return [
      {
        code: 'not converged',
        sentence: `The loss in the patients set aside was still falling after ${most} epochs: allow more.`,
      },
    ];
  return [];
}

/** The loss along the epochs; the best of those until then is chosen. */
function curveOf(
  { kind, spread }: Known,
  { learned, watched }: Pick<Trained, 'learned' | 'watched'>,
  plain: number,
): LossCurve {
  // Squared errors in the outcome's own unit.
  const inUnit = (losses: number[]) => losses.map((loss) => loss * spread ** 2);
  return {
    along: 'epochs',
    loss: kind === 'number' ? 'mean squared error' : 'log loss',
    at: learned.map((_, epoch) => epoch),
    lines: [
      { whose: 'learned from', values: inUnit(learned) },
      ...(watched.length > 0 ? [{ whose: 'inner fold' as const, values: inUnit(watched) }] : []),
    ],
    plain: plain * spread ** 2,
    chosen: watched.length > 0 ? leastAt(watched) : learned.length - 1,
  };
}

function facetsOf(
  known: Known,
  parameters: Float64Array,
  trained: Trained,
  plain: number,
  epochs: number,
  most: number,
): Facet[] {
  const { kind, levels, sizes, scaling } = known;
  const { learned, watched } = trained;
  const isWatched = watched.length > 0;
  return [
    { kind: 'curve', value: { ...curveOf(known, trained, plain), chosen: epochs } },
    {
      kind: 'network',
      value: {
        outcome: kind,
        ...(levels && { levels }),
        inputs: scaling.inputs,
        sizes,
        parameters: Array.from(parameters, (one) => Number(one.toPrecision(5))),
        epochs,
        most,
        ended: !isWatched ? 'at the last' : learned.length - 1 < most ? 'in time' : 'at the last',
      },
    },
  ];
}

function fitted(known: Known, parameters: Float64Array): Fitted {
  const { kind, levels = [], scaling, sizes, middle, spread } = known;
  return {
    predict(inputs) {
      const rows = scaledRows(scaling, inputs);
      const outputs = outputsOf(sizes, parameters, rows, inputs.rowCount);
      if (kind === 'number')
        for (let i = 0; i < outputs.length; i++) outputs[i] = middle + spread * outputs[i];
      return saidFrom(kind, levels, outputs);
    },
    save: () => ({ version: 1, json: known, arrays: { parameters } }),
  };
}
