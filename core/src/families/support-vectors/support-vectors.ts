import * as z from 'zod';
import { takeInputs, type Inputs } from '../../inputs/index.ts';
import type { Outcome } from '../../outcome/index.ts';
import type { NamedArrays } from '../../stored/index.ts';
import { innerFolds, stableOrder } from '../../trees/index.ts';
import type { Facet, MarginShown } from '../facets.ts';
import type { Family, FitContext, Fitted, FitWarning } from '../family.ts';
import type { Settings } from '../settings.ts';
import {
  countCodes,
  drawnNumbers,
  fewestToPart,
  learnKernel,
  noInputs,
  scaledRows,
  scalingOf,
  scalingSchema,
} from '../shared/index.ts';
import { coupled } from './coupled.ts';
import { supportVectors as description } from './description.ts';
import { alikeness, alikeRows, medianDistance, type Alike, type Likeness } from './likeness.ts';
import { decide, followNumber, partSides, type Machine } from './machine.ts';
import { fitSigmoid, riskBy, type Sigmoid } from './sigmoid.ts';

/**
 * Borders of the widest margin (Cortes & Vapnik 1995, Machine Learning 20:273-297), one for each pair of
 * levels, and risks by how far patients of inner folds lay from them.
 */
export const supportVectorsFamily: Family = {
  description,

  fit(inputs, outcome, settings, context) {
    const task = taskOf(inputs, outcome, settings, context);
    const { known } = task;
    const found =
      known.scaling.inputs.length === 0
        ? []
        : outcome.kind === 'number'
          ? [follow(task, settings, context.progress)]
          : pairsOf(known).map((pair, place, pairs) =>
              part(task, pair, (share) => context.progress?.((place + share) / pairs.length)),
            );
    const model: Model = { known, machines: found.map((one) => keptOf(task, one)) };
    return {
      fitted: fitted(model),
      warnings: warningsOf(known, found),
      describe: () => ({
        facets: found.some((one) => one) ? [marginFacet(task, found, settings)] : [],
        warnings: [],
      }),
    };
  },

  reads: ({ json }) => knownSchema.parse(json).scaling.inputs,

  revive: ({ json, arrays }) => fitted(unpack(knownSchema.parse(json), arrays)),
};

const likenessSchema = z.discriminatedUnion('shape', [
  z.object({ shape: z.literal('linear') }),
  z.object({ shape: z.literal('radial'), narrowness: z.number() }),
  z.object({ shape: z.literal('polynomial'), degree: z.number() }),
]);

const knownSchema = z.object({
  kind: z.enum(['event', 'levels', 'number']),
  levels: z.array(z.string()),
  scaling: scalingSchema,
  likeness: likenessSchema,
  /** Shares of levels, or the mean: what is said where nothing can be learned. */
  usual: z.array(z.number()),
  /** Of a number, the SD. */
  spread: z.number(),
  /** One a pair of levels, null where only one of them is there; their supports stand one behind the other. */
  machines: z.array(
    z
      .object({
        supports: z.number(),
        offset: z.number(),
        sigmoid: z.object({ slope: z.number(), constant: z.number() }).optional(),
      })
      .nullable(),
  ),
});
type Saved = z.infer<typeof knownSchema>;
type Known = Omit<Saved, 'machines'>;

/** A machine as it is kept: its supports' own rows. */
interface Kept {
  rows: Float64Array;
  adds: Float64Array;
  offset: number;
  sigmoid?: Sigmoid;
}

interface Model {
  known: Known;
  machines: (Kept | undefined)[];
}

/** Patients stand level by level, in these by inner fold: whoever is looked at together stands together. */
interface FitTask {
  known: Known;
  rows: Float64Array;
  alike: Alike;
  /** What happened to each: 0 or 1, the place of a level, or a number. */
  said: Float64Array;
  /** Inner fold of each, and how many there are; none where patients are too few. */
  dealt: Uint8Array;
  folds: number;
  weights: Float64Array;
  /** How much each may add. */
  most: Float64Array;
  width?: number;
}

/** What was found, and what patients of inner folds were told. */
interface Found {
  machine: Machine;
  pair?: [number, number];
  patients: Int32Array;
  told: Float64Array;
  sigmoid?: Sigmoid;
}

function taskOf(
  inputs: Inputs,
  outcome: Outcome,
  settings: Settings,
  { seed, weights, costs }: FitContext,
): FitTask {
  const count = inputs.rowCount;
  const stable = stableOrder(inputs, outcome.values, seed);
  const codes = outcome.kind === 'number' ? new Uint8Array(count) : outcome.values;
  const folds = outcome.kind === 'number' || count < fewestToPart ? 0 : foldsFor(count);
  const dealt = folds > 0 ? innerFolds(inputs, codes, codes, folds, seed) : new Uint8Array(count);
  const order = stable.toSorted((a, b) => codes[a] - codes[b] || dealt[a] - dealt[b]);
  const by = (values: ArrayLike<number>) => Float64Array.from(order, (row) => values[row]);
  // Summed in this order, so that that of the table changes not even the last bit.
  const arranged = takeInputs(inputs, order);
  const scaling = scalingOf(arranged, weights && by(weights));
  const rows = scaledRows(scaling, arranged);
  const width = widthOf(settings, rows, scaling.inputs.length);
  const likeness: Likeness =
    width !== undefined
      ? { shape: 'radial', narrowness: 1 / (2 * width ** 2) }
      : settings.shape === 'linear'
        ? { shape: 'linear' }
        : { shape: 'polynomial', degree: Number(settings.degree) };
  const own = by(weights ?? new Float64Array(count).fill(1));
  const said = by(outcome.values);
  const { usual, spread } = usualOf(outcome, said, own);
  const times = sideCosts(outcome, usual, settings, costs);
  return {
    known: { kind: outcome.kind, levels: levelsOf(outcome), scaling, likeness, usual, spread },
    rows,
    alike: alikeRows(rows, scaling.inputs.length, likeness),
    said,
    dealt: Uint8Array.from(order, (row) => dealt[row]),
    folds,
    weights: own,
    most: own.map((weight, i) => Number(settings.cost) * weight * (times?.[said[i]] ?? 1)),
    ...(width !== undefined && { width }),
  };
}

function widthOf(settings: Settings, rows: Float64Array, inputs: number): number | undefined {
  if (settings.shape !== 'radial') return undefined;
  return settings.widthBy === 'given' ? Number(settings.width) : medianDistance(rows, inputs);
}

const levelsOf = (outcome: Outcome): string[] =>
  outcome.kind === 'levels' ? outcome.levels : outcome.kind === 'event' ? ['no', 'yes'] : [];

function usualOf(outcome: Outcome, said: Float64Array, weights: Float64Array) {
  const total = weights.reduce((sum, one) => sum + one, 0);
  if (outcome.kind !== 'number') {
    const counts = countCodes(said, levelsOf(outcome).length, weights);
    return { usual: Array.from(counts, (one) => (total > 0 ? one / total : 0)), spread: 1 };
  }
  const mean = said.reduce((sum, one, i) => sum + weights[i] * one, 0) / total;
  const squares = said.reduce((sum, one, i) => sum + weights[i] * (one - mean) ** 2, 0);
  return { usual: [mean], spread: Math.sqrt(squares / total) || 1 };
}

/** By level, so that patients on average cost as much as without; undefined where all cost the same. */
function sideCosts(
  { kind }: Outcome,
  shares: number[],
  { sides }: Settings,
  costs?: number[][],
): number[] | undefined {
  if (kind === 'number' || sides === 'alike') return undefined;
  const each =
    sides === 'balanced'
      ? shares.map((share) => (share > 0 ? 1 / share : 0))
      : costs?.map((row) => row.reduce((sum, one) => sum + one, 0));
  if (!each) return undefined;
  const together = each.reduce((sum, one, level) => sum + one * shares[level], 0);
  return together > 0 ? each.map((one) => one / together) : undefined;
}

/** The later of two levels is the side of those with more of it: of yes and no, yes. */
const pairsOf = ({ levels }: Known): [number, number][] =>
  levels.flatMap((_, later) =>
    Array.from({ length: later }, (_, earlier): [number, number] => [earlier, later]),
  );

/** Inner folds by which risks are told from decision values. */
const foldsFor = (patients: number): number => (patients < 2000 ? 5 : 3);

function part(
  { alike, most, said, dealt, folds, weights }: FitTask,
  pair: [number, number],
  progress: (share: number) => void,
): Found | undefined {
  const patients = Int32Array.from(said.keys()).filter((row) => pair.includes(said[row]));
  const sidesOf = (rows: Int32Array) =>
    Int8Array.from(rows, (row) => (said[row] === pair[1] ? 1 : -1));
  const learn = (rows: Int32Array, place: number) =>
    partSides(alike, rows, sidesOf(rows), take(most, rows), (share) =>
      progress((place + share) / (folds + 1)),
    );
  const machine = learn(patients, 0);
  if (!machine) return undefined;
  let told = decide(alike, machine, patients);
  if (folds > 0) {
    const inFolds = told.slice();
    for (let fold = 0; fold < folds; fold++) {
      const others = patients.filter((row) => dealt[row] !== fold);
      const own = patients.filter((row) => dealt[row] === fold);
      const some = learn(others, fold + 1);
      // Where the others lie on one side only, nothing else can be said.
      const theirs = some
        ? decide(alike, some, own)
        : new Float64Array(own.length).fill(sidesOf(others)[0] ?? 0);
      let next = 0;
      patients.forEach((row, i) => {
        if (dealt[row] === fold) inFolds[i] = theirs[next++];
      });
    }
    told = inFolds;
  }
  const sigmoid = fitSigmoid(told, sidesOf(patients), take(weights, patients));
  return { machine, pair, patients, told, sigmoid };
}

const take = (values: Float64Array, rows: Int32Array): Float64Array =>
  Float64Array.from(rows, (row) => values[row]);

function follow(
  { alike, most, known, said }: FitTask,
  settings: Settings,
  progress?: (share: number) => void,
): Found {
  const { usual, spread } = known;
  const wanted = said.map((one) => (one - usual[0]) / spread);
  const patients = Int32Array.from(said.keys());
  const machine = followNumber(alike, patients, wanted, most, Number(settings.tube), progress);
  return { machine, patients, told: decide(alike, machine, patients) };
}

function keptOf({ rows, known }: FitTask, found: Found | undefined): Kept | undefined {
  if (!found) return undefined;
  const { supports, adds, offset } = found.machine;
  const inputs = known.scaling.inputs.length;
  const own = new Float64Array(supports.length * inputs);
  supports.forEach((support, k) =>
    own.set(rows.subarray(support * inputs, (support + 1) * inputs), k * inputs),
  );
  const sigmoid = found.sigmoid && { sigmoid: found.sigmoid };
  if (known.likeness.shape !== 'linear') return { rows: own, adds, offset, ...sigmoid };
  // Of a straight border all supports together are one.
  const slopes = new Float64Array(inputs);
  own.forEach((value, at) => (slopes[at % inputs] += adds[Math.floor(at / inputs)] * value));
  return { rows: slopes, adds: Float64Array.of(1), offset, ...sigmoid };
}

function warningsOf({ scaling }: Known, found: (Found | undefined)[]): FitWarning[] {
  if (scaling.inputs.length === 0) return [noInputs('everybody gets what all have')];
  const unsettled = found.filter((one) => one && !one.machine.settled).length;
  if (unsettled === 0) return [];
  return [
    {
      code: 'not converged',
      sentence:
        'The border had not settled when steps ended: take a smaller cost of being inside the margin, or scale down what has enormous values.',
    },
  ];
}

function marginFacet(
  { known, width, said }: FitTask,
  found: (Found | undefined)[],
  settings: Settings,
): Facet {
  const machines = found.flatMap((one): MarginShown['machines'] => {
    if (!one) return [];
    const { machine, pair, patients, told, sigmoid } = one;
    const sides = Int8Array.from(patients, (row) => Number(said[row] === pair?.[1]));
    const spread = pair && learnKernel(told, { codes: sides, levels: 2 });
    const drawn = spread && drawnNumbers(spread, told);
    return [
      {
        ...(pair && { pair: pair.map((level) => known.levels[level]) as [string, string] }),
        patients: patients.length,
        supports: machine.supports.length,
        atMost: machine.atMost,
        steps: machine.steps,
        ...(sigmoid && { sigmoid }),
        ...(drawn && { at: drawn.at, densities: drawn.densities }),
      },
    ];
  });
  return {
    kind: 'margin',
    value: {
      outcome: known.kind,
      shape: known.likeness.shape,
      cost: Number(settings.cost),
      ...(width !== undefined && { width }),
      ...(known.kind === 'number' && { tube: Number(settings.tube) * known.spread }),
      machines,
    },
  };
}

function fitted(model: Model): Fitted {
  const { known, machines } = model;
  const { kind, levels, scaling, likeness, usual, spread } = known;
  const inputs = scaling.inputs.length;
  // Made where somebody is asked about; most models are only kept.
  let ready: (Asked | undefined)[] | undefined;
  const askable = () =>
    (ready ??= machines.map((one) => one && { ...one, to: alikeness(one.rows, inputs, likeness) }));
  return {
    predict(on) {
      const asked = askable();
      const rows = scaledRows(scaling, on);
      const points = (row: number) => rows.subarray(row * inputs, (row + 1) * inputs);
      const each = (say: (row: number) => number) =>
        Float64Array.from({ length: on.rowCount }, (_, row) => say(row));
      const [first] = asked;
      if (kind === 'number')
        return {
          kind,
          values: each((row) => usual[0] + (first ? spread * decision(first, points(row)) : 0)),
        };
      if (kind === 'event')
        return {
          kind,
          risks: each((row) =>
            first ? riskBy(first.sigmoid!, decision(first, points(row))) : usual[1],
          ),
        };
      const shares = new Float64Array(on.rowCount * levels.length);
      for (let row = 0; row < on.rowCount; row++)
        shares.set(
          asked.length === 0
            ? usual
            : sharesAt(known, (place) => {
                const one = asked[place];
                return one && riskBy(one.sigmoid!, decision(one, points(row)));
              }),
          row * levels.length,
        );
      return { kind, levels, shares };
    },
    save: () => ({ version: 1, ...pack(model) }),
  };
}

/** A machine that can be asked how alike a point is to its supports. */
type Asked = Kept & { to: (point: Float64Array) => Float64Array };

function decision({ to, adds, offset }: Asked, point: Float64Array): number {
  const alike = to(point);
  let sum = offset;
  for (let k = 0; k < adds.length; k++) sum += adds[k] * alike[k];
  return sum;
}

/** No pair is ever sure. */
const surest = 1 - 1e-7;

/** @param say of a pair how likely the later level is; undefined where one of both was never seen */
function sharesAt(known: Known, say: (pair: number) => number | undefined): Float64Array {
  const count = known.levels.length;
  const pairs = new Float64Array(count * count);
  pairsOf(known).forEach(([earlier, later], place) => {
    const seen = Number(known.usual[later] > 0) - Number(known.usual[earlier] > 0);
    const said = say(place) ?? (1 + seen) / 2;
    const kept = Math.min(surest, Math.max(1 - surest, said));
    pairs[later * count + earlier] = kept;
    pairs[earlier * count + later] = 1 - kept;
  });
  return coupled(pairs, count);
}

function pack({ known, machines }: Model): { json: Saved; arrays: NamedArrays } {
  const join = (parts: Float64Array[]) => {
    const all = new Float64Array(parts.reduce((sum, { length }) => sum + length, 0));
    let at = 0;
    for (const one of parts) {
      all.set(one, at);
      at += one.length;
    }
    return all;
  };
  const there = machines.filter((one) => one !== undefined);
  return {
    json: {
      ...known,
      machines: machines.map((one) =>
        one
          ? {
              supports: one.adds.length,
              offset: one.offset,
              ...(one.sigmoid && { sigmoid: one.sigmoid }),
            }
          : null,
      ),
    },
    arrays: {
      rows: join(there.map(({ rows }) => rows)),
      adds: join(there.map(({ adds }) => adds)),
    },
  };
}

function unpack({ machines, ...known }: Saved, { rows, adds }: NamedArrays): Model {
  if (!(rows instanceof Float64Array) || !(adds instanceof Float64Array))
    throw new Error('The supports of the model are missing.');
  const inputs = known.scaling.inputs.length;
  let at = 0;
  return {
    known,
    machines: machines.map((one): Kept | undefined => {
      if (!one) return undefined;
      const { supports, offset, sigmoid } = one;
      const own = {
        rows: rows.slice(at * inputs, (at + supports) * inputs),
        adds: adds.slice(at, at + supports),
        offset,
        ...(sigmoid && { sigmoid }),
      };
      at += supports;
      return own;
    }),
  };
}
