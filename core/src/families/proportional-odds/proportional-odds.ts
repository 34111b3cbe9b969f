import * as z from 'zod';
import { logistic } from '../../numeric/index.ts';
import type { Clusters } from '../../measures/index.ts';
import { ofKind } from '../../outcome/index.ts';
import type { Inputs } from '../../preparation/index.ts';
import type { Coefficient, Facet, Proportionality } from '../facets.ts';
import { FitObstacle, type Family, type Fitted, type FitWarning } from '../family.ts';
import {
  clusterVariances,
  inflationFactors,
  levelWarnings,
  slopesOf,
  waldLine,
  type ClusterVariances,
} from '../shared/index.ts';
import { proportionalOdds as description } from './description.ts';
import { placeOf } from './information.ts';
import { maximiseOrdinal, type OrdinalMaximum } from './maximise.ts';
import { testProportionality } from './proportionality.ts';

const savedSchema = z.object({
  levels: z.array(z.string()),
  /** Codes of the levels that some patient had, in their order. */
  present: z.array(z.number().int().min(0)).min(1),
  /** Between the levels present: logit P(at or below) = threshold - Σ slope × input. */
  thresholds: z.array(z.number()),
  slopes: z.array(z.number()),
});
type Known = z.infer<typeof savedSchema>;

/** Below this p-value the slopes differ by more than chance (common practice). */
const differs = 0.05;

/** The proportional odds model by maximum likelihood. McCullagh (1980), JRSS B 42:109-142. */
export const proportionalOddsRegression: Family = {
  description,

  fit(inputs, outcome, settings, { weights, progress, clusters }) {
    const { values: codes, levels } = ofKind(outcome, 'levels');
    const iterations = Number(settings.iterations);
    const maximum = maximiseOrdinal(inputs, codes, levels.length, {
      iterations,
      weights,
      progress,
    });
    const known: Known = {
      levels,
      present: maximum.present,
      thresholds: Array.from(maximum.thresholds),
      slopes: Array.from(maximum.slopes),
    };
    if (![...known.thresholds, ...known.slopes].every(Number.isFinite))
      throw new FitObstacle(
        'The fit lost all digits: inputs of very different size, or nearly the same.',
      );
    const { separation, summary } = maximum;
    return {
      fitted: fitted(known),
      size: { degrees: slopesOf(summary) },
      describe: () => describe(maximum, inputs, codes, levels, iterations, weights, clusters),
      warnings: levelWarnings(inputs, codes, levels, {
        ...maximum,
        iterations: summary.iterations,
        separation: separation && { patients: separation.patients, slopes: [separation.slopes] },
      }),
    };
  },

  revive: ({ json }) => fitted(savedSchema.parse(json)),
};

function describe(
  maximum: OrdinalMaximum,
  inputs: Inputs,
  codes: ArrayLike<number>,
  levels: string[],
  iterations: number,
  weights?: Float64Array,
  clusters?: Clusters,
): { facets: Facet[]; warnings: FitWarning[] } {
  const { present, thresholds, slopes, covariance, kept, separation, summary } = maximum;
  const factors = inflationFactors(inputs, kept, weights);
  const size = thresholds.length + slopes.length;
  const byCluster = clusters && robust(maximum, inputs, codes, clusters, weights);
  const variance = (j: number) => (byCluster ? byCluster.variances[j] : covariance[j * size + j]);
  const degrees = byCluster && byCluster.clusters - 1;
  const moved = separation?.slopes.map(Math.abs);
  const most = moved ? Math.max(...moved) : 0;
  const slopeLines = inputs.names.flatMap((term, j): Coefficient[] => {
    if (!kept[j]) return [];
    if (moved && moved[j] > 1e-4 * most) return [{ term }];
    const line = waldLine(term, slopes[j], variance(thresholds.length + j), degrees);
    return [{ ...line, ...factors.get(term) }];
  });
  const thresholdLines = Array.from(thresholds, (threshold, k): Coefficient => {
    const term = `${levels[present[k]]} | ${levels[present[k + 1]]}`;
    if (moved) return { term };
    const { estimate, standardError } = waldLine(term, threshold, variance(k));
    return { term, estimate, standardError };
  });
  const tested = testProportionality(inputs, codes, present, kept, iterations, weights, clusters);
  const facets: Facet[] = [
    {
      kind: 'coefficients',
      value: {
        groups: [
          { title: 'Towards the higher levels', lines: slopeLines },
          { title: 'Thresholds', lines: thresholdLines },
        ],
        ...(byCluster && { byCluster: byCluster.clusters }),
      },
    },
    { kind: 'likelihood', value: summary },
    ...(tested ? [{ kind: 'proportionality' as const, value: tested }] : []),
  ];
  return { facets, warnings: tested ? unlike(tested) : [] };
}

/** Variances by cluster: a row adds the slope of its log-likelihood along its thresholds and inputs. */
function robust(
  { present, thresholds, slopes, covariance, kept }: OrdinalMaximum,
  inputs: Inputs,
  codes: ArrayLike<number>,
  clusters: Clusters,
  weights?: Float64Array,
): ClusterVariances {
  const count = thresholds.length;
  const stepOf = new Map(present.map((code, step) => [code, step]));
  const score = (row: number, into: Float64Array) => {
    into.fill(0);
    const step = stepOf.get(codes[row]);
    if (step === undefined) return;
    let linear = 0;
    inputs.columns.forEach((column, j) => (linear += slopes[j] * column[row]));
    const place = placeOf(thresholds, step, linear);
    if (!place) return;
    const weight = weights?.[row] ?? 1;
    const { upper, lower, gap } = place;
    if (step < count) into[step] = weight * (1 - upper + gap);
    if (step > 0) into[step - 1] = -weight * (lower + gap);
    inputs.columns.forEach(
      (column, j) => (into[count + j] = kept[j] ? weight * (upper + lower - 1) * column[row] : 0),
    );
  };
  const size = count + slopes.length;
  const parameters = count + kept.filter(Boolean).length;
  return clusterVariances(covariance, size, parameters, clusters, score);
}

/** A warning where the test says that one slope for all thresholds is too few. */
function unlike({ overall, inputs }: Proportionality): FitWarning[] {
  if (overall.p >= differs) return [];
  const named = inputs.filter(({ p }) => p < differs).map(({ input }) => input);
  return [
    {
      code: 'thresholds differ',
      sentence: `The predictors do not weigh the same at every threshold (p ${overall.p < 0.001 ? '< 0.001' : `= ${overall.p.toPrecision(2)}`})${named.length > 0 ? `, above all ${named.slice(0, 4).join(', ')}` : ''}: set a multinomial regression beside it.`,
      inputs: named,
    },
  ];
}

function fitted(known: Known): Fitted {
  return {
    predict: (inputs) => ({
      kind: 'levels',
      levels: known.levels,
      shares: predict(known, inputs),
    }),
    save: () => ({ version: 1, json: known, arrays: {} }),
  };
}

function predict({ levels, present, thresholds, slopes }: Known, inputs: Inputs): Float64Array {
  const width = levels.length;
  const shares = new Float64Array(inputs.rowCount * width);
  for (let i = 0; i < inputs.rowCount; i++) {
    let linear = 0;
    for (let j = 0; j < slopes.length; j++)
      if (slopes[j] !== 0) linear += slopes[j] * inputs.columns[j][i];
    // Each share as a difference from the side where it is small, so that none loses its digits.
    for (let k = 0; k < present.length; k++) {
      const upper = k < thresholds.length ? thresholds[k] - linear : Infinity;
      const lower = k > 0 ? thresholds[k - 1] - linear : -Infinity;
      shares[i * width + present[k]] =
        lower > 0 ? logistic(-lower) - logistic(-upper) : logistic(upper) - logistic(lower);
    }
  }
  return shares;
}
