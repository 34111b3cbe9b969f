import * as z from 'zod';
import { ofKind } from '../../outcome/index.ts';
import type { Inputs } from '../../preparation/index.ts';
import type { Coefficient, Facet } from '../facets.ts';
import { FitObstacle, type Family, type Fitted } from '../family.ts';
import type { Clusters } from '../../measures/index.ts';
import {
  clusterVariances,
  inflationFactors,
  levelWarnings,
  slopesOf,
  waldLine,
  type ClusterVariances,
} from '../shared/index.ts';
import { multinomial as description } from './description.ts';
import { maximiseMultinomial, type MultinomialMaximum } from './maximise.ts';

const savedSchema = z.object({
  levels: z.array(z.string()),
  /** Code of the level that the others are compared with. */
  reference: z.number().int().min(0),
  equations: z.array(
    z.object({
      code: z.number().int().min(0),
      /** Intercept first; 0 for inputs left out because they repeat others. */
      estimates: z.array(z.number()),
    }),
  ),
});
type Known = z.infer<typeof savedSchema>;

/**
 * Multinomial logistic regression: baseline-category logits by maximum likelihood.
 * Agresti (2013), Categorical Data Analysis, 3rd ed., chapter 8.
 */
export const multinomialRegression: Family = {
  description,

  fit(inputs, outcome, settings, { weights, reference, progress, clusters }) {
    const { values: codes, levels } = ofKind(outcome, 'levels');
    const maximum = maximiseMultinomial(inputs, codes, levels.length, {
      reference: Math.max(0, reference === undefined ? 0 : levels.indexOf(reference)),
      iterations: Number(settings.iterations),
      weights,
      progress,
    });
    const { equations } = maximum;
    if (!equations.every(({ estimates }) => estimates.every(Number.isFinite)))
      throw new FitObstacle(
        'The fit lost all digits: inputs of very different size, or nearly the same.',
      );
    const known: Known = {
      levels,
      reference: maximum.reference,
      equations: equations.map(({ code, estimates }) => ({
        code,
        estimates: Array.from(estimates),
      })),
    };
    return {
      fitted: fitted(known),
      size: { degrees: slopesOf(maximum.summary) },
      describe: () => ({
        facets: facetsOf(
          maximum,
          inputs,
          levels,
          weights,
          clusters && robust(known, maximum, inputs, codes, clusters, weights),
        ),
        warnings: [],
      }),
      warnings: levelWarnings(inputs, codes, levels, {
        ...maximum,
        iterations: maximum.summary.iterations,
        separation: maximum.separation && {
          patients: maximum.separation.patients,
          slopes: maximum.separation.slopes,
        },
      }),
    };
  },

  revive: ({ json }) => fitted(savedSchema.parse(json)),
};

function facetsOf(
  { equations, reference, kept, separation, summary }: MultinomialMaximum,
  inputs: Inputs,
  levels: string[],
  weights?: Float64Array,
  byCluster?: ClusterVariances,
): Facet[] {
  const factors = inflationFactors(inputs, kept, weights);
  const size = inputs.names.length + 1;
  const most = Math.max(
    0,
    ...(separation?.slopes ?? []).flatMap((one) => Array.from(one, Math.abs)),
  );
  const groups = equations.map(({ code, estimates, covariance }, c) => ({
    title: `${levels[code]} against ${levels[reference]}`,
    lines: ['Intercept', ...inputs.names].flatMap((term, j): Coefficient[] => {
      if (j > 0 && !kept[j - 1]) return [];
      const slopes = separation?.slopes[c].map(Math.abs);
      // The intercept goes to infinity with any input that does.
      if (slopes && (j === 0 ? Math.max(...slopes) : slopes[j - 1]) > 1e-4 * most)
        return [{ term }];
      const variance = byCluster ? byCluster.variances[c * size + j] : covariance[j * size + j];
      const line = waldLine(term, estimates[j], variance, byCluster && byCluster.clusters - 1);
      return [{ ...line, ...factors.get(term) }];
    }),
  }));
  return [
    {
      kind: 'coefficients',
      value: { groups, ...(byCluster && { byCluster: byCluster.clusters }) },
    },
    { kind: 'likelihood', value: summary },
  ];
}

/** Variances by cluster: in each equation a row adds its residual, times 1 and its inputs. */
function robust(
  known: Known,
  { equations, covariance, kept }: MultinomialMaximum,
  inputs: Inputs,
  codes: ArrayLike<number>,
  clusters: Clusters,
  weights?: Float64Array,
): ClusterVariances {
  const shares = predict(known, inputs);
  const width = known.levels.length;
  const size = inputs.columns.length + 1;
  const parameters = equations.length * (1 + kept.filter(Boolean).length);
  const score = (row: number, into: Float64Array) =>
    equations.forEach(({ code }, c) => {
      const had = Number(codes[row] === code);
      const residual = (weights?.[row] ?? 1) * (had - shares[row * width + code]);
      into[c * size] = residual;
      inputs.columns.forEach((column, j) => (into[c * size + j + 1] = residual * column[row]));
    });
  return clusterVariances(covariance, equations.length * size, parameters, clusters, score);
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

/** Levels without an equation that are not the reference level were nobody's: their share is 0. */
function predict({ levels, reference, equations }: Known, inputs: Inputs): Float64Array {
  const width = levels.length;
  const shares = new Float64Array(inputs.rowCount * width);
  for (let i = 0; i < inputs.rowCount; i++) {
    const at = i * width;
    let most = 0;
    for (const { code, estimates } of equations) {
      let linear = estimates[0];
      for (let j = 1; j < estimates.length; j++)
        if (estimates[j] !== 0) linear += estimates[j] * inputs.columns[j - 1][i];
      shares[at + code] = linear;
      if (linear > most) most = linear;
    }
    let sum = (shares[at + reference] = Math.exp(-most));
    for (const { code } of equations) sum += shares[at + code] = Math.exp(shares[at + code] - most);
    for (let k = 0; k < width; k++) shares[at + k] /= sum;
  }
  return shares;
}
