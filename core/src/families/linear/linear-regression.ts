import * as z from 'zod';
import { fUpperTail, tQuantile, twoSidedTP } from '../../numeric/index.ts';
import type { Clusters } from '../../measures/index.ts';
import { ofKind } from '../../outcome/index.ts';
import type { Inputs } from '../../preparation/index.ts';
import type { Coefficient, Facet, VarianceSummary } from '../facets.ts';
import { FitObstacle, type Family, type Fitted, type FitWarning } from '../family.ts';
import {
  addedLine,
  clusterCovariance,
  inflationFactors,
  leftOut,
  noInputs,
  scoreOfLine,
  waldStatistic,
} from '../shared/index.ts';
import { linear as description } from './description.ts';
import { leastSquares, type LeastSquares } from './least-squares.ts';

const savedSchema = z.object({
  /** Intercept first; 0 for inputs left out because they repeat others. */
  estimates: z.array(z.number()),
  /** Row-major (XᵗX)⁻¹. */
  unscaled: z.array(z.number()),
  /** Residual standard error, and its degrees of freedom; absent where nothing is left to judge it by. */
  spread: z.object({ sd: z.number(), degrees: z.number() }).optional(),
});
type Known = z.infer<typeof savedSchema>;

/** Linear regression by least squares. Draper & Smith (1998), Applied Regression Analysis, 3rd ed. */
export const linearRegression: Family = {
  description,

  fit(inputs, outcome, _settings, { weights, clusters }) {
    const { values } = ofKind(outcome, 'number');
    const found = leastSquares(inputs, values, weights);
    if (!found.estimates.every(Number.isFinite))
      throw new FitObstacle('The fit lost all digits: inputs of very different size.');
    const summary = summarise(found);
    const known: Known = {
      estimates: Array.from(found.estimates),
      unscaled: Array.from(found.unscaled),
      ...(summary.residualDegrees > 0 && {
        spread: { sd: summary.residualStandardError, degrees: summary.residualDegrees },
      }),
    };
    return {
      fitted: fitted(known),
      size: { degrees: summary.parameters - 1 },
      warnings: warningsOf(found, summary, inputs),
      describe: () => ({
        facets: facetsOf(found, summary, inputs, weights, clusters && { clusters, values }),
        warnings: [],
      }),
    };
  },

  revive: ({ json }) => fitted(savedSchema.parse(json)),

  // What repeats others is left out with a coefficient of 0.
  reads: ({ json }, names) =>
    names.filter((_, j) => savedSchema.parse(json).estimates[j + 1] !== 0),
};

function summarise(found: LeastSquares): VarianceSummary {
  const { patients, kept, totalSquares } = found;
  const residualSquares = isExact(found) ? 0 : found.residualSquares;
  const slopes = kept.filter(Boolean).length;
  const parameters = slopes + 1;
  const residualDegrees = patients - parameters;
  const logLikelihood =
    (-patients / 2) * (Math.log((2 * Math.PI * residualSquares) / patients) + 1);
  const rSquared = totalSquares > 0 ? 1 - residualSquares / totalSquares : undefined;
  const varies = rSquared !== undefined && residualDegrees > 0;
  const f =
    varies && slopes > 0 && residualSquares > 0
      ? (totalSquares - residualSquares) / slopes / (residualSquares / residualDegrees)
      : undefined;
  return {
    patients,
    parameters,
    residualDegrees,
    residualStandardError: residualDegrees > 0 ? Math.sqrt(residualSquares / residualDegrees) : 0,
    ...(rSquared !== undefined && { rSquared }),
    ...(varies && {
      adjustedRSquared: 1 - ((1 - rSquared) * (patients - 1)) / residualDegrees,
    }),
    ...(f !== undefined && {
      f: {
        value: f,
        degrees: [slopes, residualDegrees],
        p: fUpperTail(f, slopes, residualDegrees),
      },
    }),
    logLikelihood,
    aic: -2 * logLikelihood + 2 * (parameters + 1),
    bic: -2 * logLikelihood + Math.log(patients) * (parameters + 1),
  };
}

/** Residuals that are nothing but rounding, compared with the numbers themselves. */
const isExact = ({ residualSquares, squares }: LeastSquares): boolean =>
  residualSquares <= 1e-24 * squares;

function facetsOf(
  found: LeastSquares,
  summary: VarianceSummary,
  inputs: Inputs,
  weights?: Float64Array,
  dependent?: { clusters: Clusters; values: Float64Array },
): Facet[] {
  const size = found.estimates.length;
  const byCluster = dependent && robust(found, inputs, dependent, weights);
  const factors = inflationFactors(inputs, found.kept, weights);
  const { residualStandardError: sd } = summary;
  const degrees = byCluster ? byCluster.clusters - 1 : summary.residualDegrees;
  const reach = degrees > 0 ? tQuantile(0.025, degrees) : NaN;
  const lines = ['Intercept', ...inputs.names].flatMap((term, j): Coefficient[] => {
    if (j > 0 && !found.kept[j - 1]) return [];
    const estimate = found.estimates[j];
    const standardError = byCluster
      ? Math.sqrt(byCluster.covariance[j * size + j])
      : sd * Math.sqrt(found.unscaled[j * size + j]);
    const line = { term, estimate, ...factors.get(term) };
    if (!(standardError > 0)) return [line];
    const t = estimate / standardError;
    const interval: [number, number] = [
      estimate - reach * standardError,
      estimate + reach * standardError,
    ];
    return [{ ...line, standardError, t, p: twoSidedTP(t, degrees), interval }];
  });
  return [
    {
      kind: 'coefficients',
      value: { groups: [{ lines }], ...(byCluster && { byCluster: byCluster.clusters }) },
    },
    {
      kind: 'variance',
      value: byCluster ? { ...summary, f: byCluster.f } : summary,
    },
  ];
}

interface ByCluster {
  covariance: Float64Array;
  clusters: number;
  /** All slopes against none; absent where slopes are more than clusters can judge. */
  f?: VarianceSummary['f'];
}

/** Covariance by cluster: a row adds its weighted residual, times 1 and its inputs. */
function robust(
  { estimates, unscaled, kept }: LeastSquares,
  inputs: Inputs,
  { clusters, values }: { clusters: Clusters; values: Float64Array },
  weights?: Float64Array,
): ByCluster {
  const size = estimates.length;
  const residual = (row: number) => {
    let off = values[row] - estimates[0];
    inputs.columns.forEach((column, j) => (off -= estimates[j + 1] * column[row]));
    return (weights?.[row] ?? 1) * off;
  };
  const places = kept.flatMap((one, j) => (one ? [j + 1] : []));
  const score = scoreOfLine(inputs, residual);
  const covariance = clusterCovariance(unscaled, size, places.length + 1, clusters, score);
  const { count } = clusters;
  const statistic = waldStatistic(
    places.map((j) => estimates[j]),
    places.flatMap((j) => places.map((k) => covariance[j * size + k])),
  );
  if (statistic === undefined || places.length === 0 || places.length > count - 1)
    return { covariance, clusters: count };
  const value = statistic / places.length;
  const degrees: [number, number] = [places.length, count - 1];
  return { covariance, clusters: count, f: { value, degrees, p: fUpperTail(value, ...degrees) } };
}

function warningsOf(found: LeastSquares, summary: VarianceSummary, inputs: Inputs): FitWarning[] {
  const without = inputs.names.filter((_, j) => !found.kept[j]);
  return [
    ...(inputs.columns.length === 0 ? [noInputs('every prediction is the mean')] : []),
    ...(without.length > 0 ? [leftOut(without)] : []),
    ...(summary.residualDegrees <= 0
      ? [
          {
            code: 'not converged' as const,
            sentence: `As many coefficients as patients: the numbers are met exactly, and nothing is left to judge them by. Use fewer predictors.`,
          },
        ]
      : []),
    ...(summary.residualDegrees > 0 && isExact(found) && inputs.columns.length > 0
      ? [
          {
            code: 'exact fit' as const,
            sentence:
              'The predictors give the outcome exactly: every residual is zero. Look for a predictor that was computed from the outcome, or for an outcome that does not vary.',
          },
        ]
      : []),
  ];
}

function fitted(known: Known): Fitted {
  return {
    predict: (inputs) => ({ kind: 'number', values: predict(known.estimates, inputs) }),
    added: (inputs, compared) => addedLine('said', known.estimates, inputs, compared),
    ...(known.spread && { intervals: (inputs) => intervals(known, known.spread!, inputs) }),
    save: () => ({ version: 1, json: known, arrays: {} }),
  };
}

function predict(estimates: number[], inputs: Inputs): Float64Array {
  const values = new Float64Array(inputs.rowCount).fill(estimates[0]);
  inputs.columns.forEach((column, j) => {
    const slope = estimates[j + 1];
    if (slope !== 0) for (let i = 0; i < values.length; i++) values[i] += slope * column[i];
  });
  return values;
}

/** Prediction ± t × sd × √(1 + xᵗ(XᵗX)⁻¹x). */
function intervals(
  { estimates, unscaled }: Known,
  { sd, degrees }: { sd: number; degrees: number },
  inputs: Inputs,
): Float64Array {
  const size = estimates.length;
  const reach = tQuantile(0.025, degrees) * sd;
  const values = predict(estimates, inputs);
  const ends = new Float64Array(2 * values.length);
  const row = new Float64Array(size);
  row[0] = 1;
  for (let i = 0; i < values.length; i++) {
    for (let j = 1; j < size; j++) row[j] = inputs.columns[j - 1][i];
    let leverage = 0;
    for (let j = 0; j < size; j++) {
      let sum = 0;
      for (let k = 0; k < size; k++) sum += unscaled[j * size + k] * row[k];
      leverage += row[j] * sum;
    }
    const half = reach * Math.sqrt(1 + Math.max(0, leverage));
    ends[2 * i] = values[i] - half;
    ends[2 * i + 1] = values[i] + half;
  }
  return ends;
}
