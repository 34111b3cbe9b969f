import * as z from 'zod';
import type { Inputs } from '../../inputs/index.ts';
import type { Predictions } from '../../outcome/index.ts';
import type { NamedArrays } from '../../stored/index.ts';
import { stableOrder } from '../../trees/index.ts';
import type { DiscriminantsShown, Facet } from '../facets.ts';
import type { Family, Fitted, FitWarning } from '../family.ts';
import {
  byName,
  drawnNumbers,
  learnersOf,
  learnKernel,
  leftOut,
  noInputs,
  priorsOf,
  sharesFromLogs,
  type Learners,
} from '../shared/index.ts';
import { cloudMap } from './cloud-map.ts';
import { cloudsOf, keptIn, momentsOf, type Cloud, type Moments } from './clouds.ts';
import { discriminants as description } from './description.ts';
import { directionsOf } from './directions.ts';

/** Linear and quadratic discriminants; see `cloudsOf`. */
export const discriminantsFamily: Family = {
  description,

  fit(inputs, outcome, settings, { seed, weights }) {
    const learners = learnersOf(outcome, weights);
    const all = momentsOf(inputs.columns, learners);
    const isKept = keptIn(all.within, inputs.columns.length);
    const kept = inputs.names.filter((_, j) => isKept[j]);
    const columns = inputs.columns.filter((_, j) => isKept[j]);
    const moments = kept.length < isKept.length ? momentsOf(columns, learners) : all;
    const levels = outcome.kind === 'levels' ? outcome.levels : ['no', 'yes'];
    const clouds =
      kept.length === 0
        ? []
        : cloudsOf(moments, levels, {
            ownShapes: settings.shape === 'quadratic',
            pooled: Number(settings.pooled),
            round: Number(settings.round),
          });
    const model: Model = {
      kind: outcome.kind === 'levels' ? 'levels' : 'event',
      levels,
      priors: priorsOf(outcome, settings, learners),
      inputs: kept,
      clouds,
    };
    return {
      fitted: fitted(model),
      warnings: warningsOf(inputs, kept),
      describe: () => ({
        facets:
          kept.length > 0
            ? [
                facetFrom(
                  model,
                  columns,
                  moments,
                  learners,
                  stableOrder(inputs, outcome.values, seed),
                ),
              ]
            : [],
        warnings: [],
      }),
    };
  },

  reads: ({ json }) => knownSchema.parse(json).inputs,

  revive: ({ json, arrays }) => fitted(unpack(knownSchema.parse(json), arrays)),
};

interface Model {
  kind: 'event' | 'levels';
  levels: string[];
  priors: number[];
  /** Those that do not repeat others. */
  inputs: string[];
  /** One a level; none without inputs. */
  clouds: Cloud[];
}

const knownSchema = z.object({
  kind: z.enum(['event', 'levels']),
  levels: z.array(z.string()),
  priors: z.array(z.number()),
  inputs: z.array(z.string()),
  logDeterminants: z.array(z.number()),
});
type Known = z.infer<typeof knownSchema>;

function warningsOf({ names }: Inputs, kept: string[]): FitWarning[] {
  if (kept.length === 0) return [noInputs('everybody gets what is said before anything is known')];
  const left = names.filter((name) => !kept.includes(name));
  return left.length > 0 ? [leftOut(left)] : [];
}

function fitted(model: Model): Fitted {
  return {
    predict: (inputs) => predict(model, inputs),
    save: () => ({ version: 1, ...pack(model) }),
  };
}

function predict(model: Model, inputs: Inputs): Predictions {
  const columns = model.inputs.map((name) => {
    const j = inputs.names.indexOf(name);
    if (j < 0) throw new Error(`The model reads ${name}, which is not among the inputs.`);
    return inputs.columns[j];
  });
  return sharesFromLogs(model.kind, model.levels, logsOf(model, columns, inputs.rowCount));
}

/** By patient and level: logarithm of how likely both are together, up to a constant of the patient. */
function logsOf(model: Model, columns: Float64Array[], rowCount: number): Float64Array {
  const first = model.priors.map(Math.log);
  const { length: width } = model.levels;
  if (columns.length === 0)
    return new Float64Array(rowCount * width).map((_, at) => first[at % width]);
  return isOneShape(model.clouds)
    ? straightLogs(model.clouds, first, columns, rowCount)
    : bentLogs(model.clouds, first, columns, rowCount);
}

const isOneShape = ([{ whitening }, ...others]: Cloud[]): boolean =>
  others.every(
    (one) =>
      one.whitening === whitening || one.whitening.every((value, at) => value === whitening[at]),
  );

function bentLogs(
  clouds: Cloud[],
  first: number[],
  columns: Float64Array[],
  rowCount: number,
): Float64Array {
  const width = clouds.length;
  const size = columns.length;
  const logs = new Float64Array(rowCount * width);
  const away = new Float64Array(size);
  for (let row = 0; row < rowCount; row++)
    for (let level = 0; level < width; level++) {
      const { mean, whitening, logDeterminant } = clouds[level];
      for (let j = 0; j < size; j++) away[j] = columns[j][row] - mean[j];
      let distance = 0;
      for (let i = 0; i < size; i++) {
        let sum = 0;
        for (let k = 0; k <= i; k++) sum += whitening[i * size + k] * away[k];
        distance += sum * sum;
      }
      logs[row * width + level] = first[level] - (distance + logDeterminant) / 2;
    }
  return logs;
}

/** Of one shape, what is square in a patient is the same for all levels: slopes are left, about the middle of the means. */
function straightLogs(
  clouds: Cloud[],
  first: number[],
  columns: Float64Array[],
  rowCount: number,
): Float64Array {
  const width = clouds.length;
  const size = columns.length;
  const { whitening } = clouds[0];
  const middle = columns.map((_, j) => clouds.reduce((sum, { mean }) => sum + mean[j] / width, 0));
  const logs = new Float64Array(rowCount * width);
  clouds.forEach(({ mean }, level) => {
    const white = Float64Array.from({ length: size }, (_, i) => {
      let sum = 0;
      for (let k = 0; k <= i; k++) sum += whitening[i * size + k] * (mean[k] - middle[k]);
      return sum;
    });
    const constant = first[level] - white.reduce((sum, one) => sum + one * one, 0) / 2;
    for (let row = 0; row < rowCount; row++) logs[row * width + level] = constant;
    columns.forEach((column, j) => {
      let slope = 0;
      for (let i = j; i < size; i++) slope += whitening[i * size + j] * white[i];
      for (let row = 0; row < rowCount; row++)
        logs[row * width + level] += slope * (column[row] - middle[j]);
    });
  });
  return logs;
}

function pack({ clouds, ...model }: Model): { json: Known; arrays: NamedArrays } {
  return {
    json: { ...model, logDeterminants: clouds.map(({ logDeterminant }) => logDeterminant) },
    arrays: {
      means: Float64Array.from(clouds.flatMap(({ mean }) => [...mean])),
      whitenings: Float64Array.from(clouds.flatMap(({ whitening }) => [...whitening])),
    },
  };
}

function unpack({ logDeterminants, ...known }: Known, arrays: NamedArrays): Model {
  const { means, whitenings } = arrays as Record<string, Float64Array | undefined>;
  if (!means || !whitenings) throw new Error('The clouds of the model are missing.');
  const size = known.inputs.length;
  return {
    ...known,
    clouds: logDeterminants.map((logDeterminant, level) => ({
      mean: means.slice(level * size, (level + 1) * size),
      whitening: whitenings.slice(level * size * size, (level + 1) * size * size),
      logDeterminant,
    })),
  };
}

/** Directions that are shown at most. */
const mostShown = 3;

/** Where levels lie along the directions that part them, and what each input has in these. */
function facetFrom(
  model: Model,
  columns: Float64Array[],
  moments: Moments,
  learners: Learners,
  order: Int32Array,
): Facet {
  const { kind, levels, priors, inputs } = model;
  const directions = directionsOf(moments).slice(0, mostShown);
  const scores = directions.map(({ weights }) => scoresAlong(weights, columns, byName(inputs)));
  const shown = directions.map(
    ({ share, weights }, k): DiscriminantsShown['directions'][number] => {
      const spread = learnKernel(scores[k], learners);
      const drawn = spread && drawnNumbers(spread, scores[k]);
      const means = moments.means.map((mean) =>
        mean.reduce((sum, one, j) => sum + one * weights[j], 0),
      );
      // Per SD within levels, so that inputs of any unit can be compared.
      const perDeviation = weights.map(
        (weight, j) => weight * Math.sqrt(moments.within[j * inputs.length + j]),
      );
      return {
        share,
        means,
        weights: Array.from(perDeviation),
        ...(drawn && { at: drawn.at, densities: drawn.densities }),
      };
    },
  );
  const map =
    directions.length > 1
      ? cloudMap({
          directions: directions.slice(0, 2),
          scores: scores.slice(0, 2),
          codes: learners.codes,
          order,
          moments,
          logsAt: (places, count) => logsOf(model, places, count),
        })
      : undefined;
  return {
    kind: 'discriminants',
    value: { outcome: kind, levels, priors, inputs, directions: shown, ...(map && { map }) },
  };
}

function scoresAlong(
  weights: Float64Array,
  columns: Float64Array[],
  order: Int32Array,
): Float64Array {
  const scores = new Float64Array(columns[0].length);
  for (const j of order)
    for (let row = 0; row < scores.length; row++) scores[row] += weights[j] * columns[j][row];
  return scores;
}
