import * as z from 'zod';
import type { Inputs } from '../../inputs/index.ts';
import type { Outcome, OutcomeKind, Predictions } from '../../outcome/index.ts';
import type { NamedArrays } from '../../stored/index.ts';
import type { Facet } from '../facets.ts';
import type { Family, Fitted, FitWarning, Neighbours } from '../family.ts';
import { noInputs } from '../shared/index.ts';
import { fewest, tryCounts, type SearchRows, type TriedCounts } from './count.ts';
import { nearestPatients as description } from './description.ts';
import { searchAmong, type Search } from './search.ts';
import {
  distanceFrom,
  placesOf,
  pointsOf,
  spaceOf,
  spaceSchema,
  type Distance,
  type Space,
} from './space.ts';
import { tally, type Asked, type Voters } from './votes.ts';

/** Fix & Hodges 1951; Cover & Hart 1967, IEEE Transactions on Information Theory 13:21-27. */
export const nearestPatientsFamily: Family = {
  description,

  fit(inputs, outcome, settings, { seed, weights, progress, alongValues }) {
    const space = spaceOf(inputs, settings.distance as Distance, weights);
    const places = placesOf(space, inputs);
    const patients = weights ? weights.reduce((sum, one) => sum + one, 0) : inputs.rowCount;
    const known: Known = {
      kind: outcome.kind,
      ...(outcome.kind === 'levels' && { levels: outcome.levels }),
      space,
      names: space.inputs.map(({ input }) => input),
      votes: settings.votes as Known['votes'],
      added: outcome.kind === 'number' ? 0 : Number(settings.added),
      usual: [],
      neighbours: 1,
    };
    const model: Model = {
      known,
      places,
      said: Float64Array.from(outcome.values),
      ...(weights && { weights: Float64Array.from(weights) }),
    };
    known.usual = usualOf(model);
    const root = Math.max(1, Math.round(Math.sqrt(patients)));
    const also = settings.neighboursBy === 'given' ? Number(settings.neighbours) : root;
    const canTry = space.inputs.length > 0 && inputs.rowCount >= fewest;
    const trying = (done?: (share: number) => void) =>
      tried(inputs, outcome, model, seed, { most: Math.max(50, 4 * root, also), also }, done);
    const found = canTry && settings.neighboursBy === 'best' ? trying(progress) : undefined;
    known.neighbours = found?.best ?? also;
    return {
      fitted: fitted(model, alongValues),
      warnings: warningsOf(inputs, known),
      describe: () => ({
        facets: canTry ? [curveOf(found ?? trying(), model)] : [],
        warnings: [],
      }),
    };
  },

  reads: ({ json }) => knownSchema.parse(json).names,

  revive: ({ json, arrays }) => fitted(unpack(knownSchema.parse(json), arrays)),
};

const knownSchema = z.object({
  kind: z.enum(['event', 'levels', 'number']),
  levels: z.array(z.string()).optional(),
  space: spaceSchema,
  /** Inputs of the space. */
  names: z.array(z.string()),
  votes: z.enum(['plain', 'distance', 'kernel']),
  added: z.number(),
  /** Shares of levels, the share of cases or the mean, of all. */
  usual: z.array(z.number()),
  neighbours: z.number(),
});
type Known = z.infer<typeof knownSchema>;

interface Model {
  known: Known;
  /** Where the patients learned from stand. */
  places: Float64Array;
  /** What happened to them. */
  said: Float64Array;
  weights?: Float64Array;
}

const widthOf = ({ kind, levels = [] }: Known) => (kind === 'levels' ? levels.length : 1);

function votersOf({ known, said, weights }: Model): Voters {
  return {
    votes: known.votes,
    width: widthOf(known),
    add:
      known.kind === 'levels'
        ? (sums, row, weight) => (sums[said[row]] += weight)
        : (sums, row, weight) => (sums[0] += weight * said[row]),
    ...(weights && { weights }),
  };
}

/** What all say together. */
function usualOf(model: Model): number[] {
  const { said, weights, known } = model;
  const { add } = votersOf(model);
  const sums = new Float64Array(widthOf(known));
  let total = 0;
  for (let row = 0; row < said.length; row++) {
    const weight = weights ? weights[row] : 1;
    add(sums, row, weight);
    total += weight;
  }
  return Array.from(sums, (sum) => (total > 0 ? sum / total : 0));
}

/** The mean of those asked, drawn to what all say; that alone where nobody can be asked. */
function settled({ added, usual }: Known, mean: Float64Array, patients: number): Float64Array {
  const together = patients + added;
  for (let k = 0; k < mean.length; k++)
    mean[k] =
      patients === 0
        ? usual[k]
        : added === 0
          ? mean[k]
          : (patients * mean[k] + added * usual[k]) / together;
  return mean;
}

/** How many rows stand for so many patients at most, and one more, whose distance may be wanted. */
function rowsFor(patients: number, weights?: Float64Array): number {
  if (!weights) return patients + 1;
  const sorted = weights.toSorted();
  let [sum, rows] = [0, 0];
  while (rows < sorted.length && sum < patients) sum += sorted[rows++];
  return rows + 1;
}

function tried(
  inputs: Inputs,
  outcome: Outcome,
  model: Model,
  seed: number,
  counts: { most: number; also: number },
  progress?: (share: number) => void,
): TriedCounts {
  const { known, places, said, weights } = model;
  const voters = votersOf(model);
  const columns = pointsOf(known.space, places).shares.length;
  const search: SearchRows = (learn, of, most, found) => {
    const some = new Float64Array(learn.length * columns);
    learn.forEach((row, i) =>
      some.set(places.subarray(row * columns, (row + 1) * columns), i * columns),
    );
    const among = searchAmong(pointsOf(known.space, some));
    const theirs = weights && Float64Array.from(learn, (row) => weights[row]);
    const count = rowsFor(most, theirs);
    for (const row of of) {
      const asked = askedFrom(
        known.space,
        among,
        places.subarray(row * columns, (row + 1) * columns),
        count,
      );
      found(row, {
        rows: Int32Array.from(asked.rows, (i) => learn[i]),
        distances: asked.distances,
      });
    }
  };
  const lossOf = lossesOf[known.kind];
  return tryCounts(
    inputs,
    outcome,
    seed,
    counts,
    search,
    (row, asked, counts, losses) =>
      tally(asked, voters, counts, (place, mean, patients) => {
        const weight = weights ? weights[row] : 1;
        losses[place] += weight * lossOf(settled(known, mean, patients), said[row]);
      }),
    weights,
    progress,
  );
}

const lossesOf: Record<OutcomeKind, (mean: Float64Array, said: number) => number> = {
  event: ([risk], said) => (risk - said) ** 2,
  number: ([mean], said) => (mean - said) ** 2,
  levels: (shares, said) =>
    shares.reduce((sum, share, k) => sum + (share - Number(k === said)) ** 2, 0),
};

function curveOf({ at, losses }: TriedCounts, { known, said, weights }: Model): Facet {
  const lossOf = lossesOf[known.kind];
  const usual = Float64Array.from(known.usual);
  let [total, sum] = [0, 0];
  for (let row = 0; row < said.length; row++) {
    const weight = weights ? weights[row] : 1;
    total += weight;
    sum += weight * lossOf(usual, said[row]);
  }
  return {
    kind: 'curve',
    value: {
      along: 'neighbours',
      loss: known.kind === 'number' ? 'mean squared error' : 'Brier score',
      at,
      lines: [{ whose: 'inner fold', values: losses }],
      plain: sum / total,
      chosen: known.neighbours,
    },
  };
}

function warningsOf({ names }: Inputs, known: Known): FitWarning[] {
  if (known.names.length === 0) return [noInputs('everybody gets what all have')];
  const left = names.filter((name) => !known.names.includes(name));
  if (left.length === 0) return [];
  return [
    {
      code: 'left out',
      sentence: `Left out because fewer than two different values are known: ${left.join(', ')}.`,
      inputs: left,
    },
  ];
}

/** A model is revived each time a patient is asked about: what is sought in is made once. */
const searches = new WeakMap<Float64Array, Search>();

function searchOnce(space: Space, places: Float64Array): Search {
  const known = searches.get(places);
  if (known) return known;
  const made = searchAmong(pointsOf(space, places));
  searches.set(places, made);
  return made;
}

function askedFrom(space: Space, among: Search, point: Float64Array, count: number): Asked {
  const { rows, sums } = among.nearest(point, count);
  return { rows, distances: sums.map((sum) => distanceFrom(space, sum)) };
}

/** Numbers that are said at once for several numbers of patients asked, at most. */
const mostSaid = 5e6;

/** @param alongValues numbers of patients asked that will be wanted of the same inputs */
function fitted(model: Model, alongValues: number[] = []): Fitted {
  const { known, places, weights } = model;
  const { space } = known;
  const columns = pointsOf(space, places).shares.length;
  const voters = votersOf(model);
  let most = 0;
  let rows = 0;
  const near = (point: Float64Array, count: number): Asked => {
    const among = searchOnce(space, places);
    if (count !== most) [most, rows] = [count, rowsFor(count, weights)];
    return askedFrom(space, among, point, rows);
  };
  const within = (count: number) => Math.min(count, known.neighbours);
  const width = widthOf(known);
  /** What is said with each of these numbers of patients asked, who are sought once. */
  const sayAll = (inputs: Inputs, counts: number[]): Map<number, Float64Array> => {
    const said = counts.map(() => new Float64Array(inputs.rowCount * width));
    const points = placesOf(space, inputs);
    for (let row = 0; row < inputs.rowCount; row++) {
      const asked = near(points.subarray(row * columns, (row + 1) * columns), counts.at(-1)!);
      tally(asked, voters, counts, (place, mean, patients) =>
        said[place].set(settled(known, mean, patients), row * width),
      );
    }
    return new Map(counts.map((count, place) => [count, said[place]]));
  };
  const wanted = [...new Set(alongValues.map(within))].sort((a, b) => a - b);
  let last: { inputs: Inputs; said: Map<number, Float64Array> } | undefined;
  return {
    predict(inputs, along) {
      const count = within(along ?? known.neighbours);
      const isAmong = wanted.includes(count) && wanted.length * inputs.rowCount * width <= mostSaid;
      if (!isAmong) return predictionsFrom(known, sayAll(inputs, [count]).get(count)!);
      if (last?.inputs !== inputs) last = { inputs, said: sayAll(inputs, wanted) };
      return predictionsFrom(known, last.said.get(count)!);
    },
    neighbours(inputs) {
      const point = placesOf(space, inputs).subarray(0, columns);
      return neighboursOf(model, point, near(point, known.neighbours));
    },
    save: () => ({ version: 1, ...pack(model) }),
  };
}

function predictionsFrom({ kind, levels = [] }: Known, values: Float64Array): Predictions {
  if (kind === 'event') return { kind, risks: values };
  return kind === 'number' ? { kind, values } : { kind, levels, shares: values };
}

/** Those asked, with their values as the model knows them. */
function neighboursOf(
  { known, places, said, weights }: Model,
  point: Float64Array,
  asked: Asked,
): Neighbours {
  const { space, neighbours, kind, levels = [], names } = known;
  const patients: Neighbours['patients'] = [];
  let taken = 0;
  for (let i = 0; i < asked.rows.length && taken < neighbours; i++) {
    const row = asked.rows[i];
    taken += weights ? weights[row] : 1;
    patients.push({
      distance: asked.distances[i],
      outcome: kind === 'levels' ? levels[said[row]] : said[row],
      values: valuesAt(space, places.subarray(row * point.length, (row + 1) * point.length)),
    });
  }
  return { inputs: names, own: valuesAt(space, point), patients };
}

/** The values of a patient who stands there; null where one is not known. */
function valuesAt(space: Space, place: Float64Array): Neighbours['own'] {
  let first = 0;
  return space.inputs.map(({ levels, middle, size }) => {
    const own = place.subarray(first, (first += levels?.length ?? 1));
    if (Number.isNaN(own[0])) return null;
    return levels ? levels[own.findIndex((one) => one > 0)] : own[0] / size + middle;
  });
}

const pack = ({ known, places, said, weights }: Model): { json: Known; arrays: NamedArrays } => ({
  json: known,
  arrays: { places, said, ...(weights && { weights }) },
});

function unpack(known: Known, { places, said, weights }: NamedArrays): Model {
  if (!(places instanceof Float64Array) || !(said instanceof Float64Array))
    throw new Error('The patients of the model are missing.');
  return { known, places, said, ...(weights instanceof Float64Array && { weights }) };
}
