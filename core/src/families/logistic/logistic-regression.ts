import * as z from 'zod';
import { logistic } from '../../numeric/index.ts';
import type { Inputs } from '../../preparation/index.ts';
import { ofKind } from '../../outcome/index.ts';
import type { Coefficient, Facet } from '../facets.ts';
import {
  FitObstacle,
  warningCodes,
  type Family,
  type FitContext,
  type Fitted,
  type FitWarning,
} from '../family.ts';
import {
  addedLine,
  clusterVariances,
  inflationFactors,
  scoreOfLine,
  slopesOf,
  type ClusterVariances,
} from '../shared/index.ts';
import { describeCoefficients } from './coefficients.ts';
import { logistic as description } from './description.ts';
import { maximiseLikelihood, type Maximum } from './maximise.ts';
import { canProfile, reduceBias, type Profile } from './reduce-bias.ts';
import { findWarnings } from './warnings.ts';

const savedSchema = z.object({
  terms: z.array(z.string()),
  /** Intercept first; 0 for inputs left out because they repeat others. */
  estimates: z.array(z.number()),
  /** Row-major covariance of the estimates; null where it is not finite. */
  covariance: z.array(z.number().nullable()),
  /** By term: there is no finite estimate, because the outcome is separated by it. */
  separated: z.array(z.boolean()).optional(),
  keptInputs: z.array(z.boolean()),
  summary: z.object({
    patients: z.number(),
    events: z.number(),
    logLikelihood: z.number(),
    penalised: z.number().optional(),
    nullDeviance: z.number(),
    nullDegrees: z.number(),
    residualDeviance: z.number(),
    residualDegrees: z.number(),
    aic: z.number(),
    bic: z.number().optional(),
    iterations: z.number(),
  }),
  warnings: z.array(
    z.object({
      code: z.enum(warningCodes),
      sentence: z.string(),
      inputs: z.array(z.string()).optional(),
    }),
  ),
});
type Saved = z.infer<typeof savedSchema>;

/**
 * Logistic regression by maximum likelihood, two outcome levels.
 * McCullagh & Nelder (1989), Generalized Linear Models, 2nd ed., chapter 4. Bias-reduced on demand.
 */
export const logisticRegression: Family = {
  description,

  fit(inputs, outcome, settings, context) {
    const { values: events } = ofKind(outcome, 'event');
    const options = {
      iterations: Number(settings.iterations),
      weights: context.weights,
      progress: context.progress,
    };
    const reduced =
      settings.estimates === 'likeliest'
        ? undefined
        : reduceBias(inputs, events, {
            ...options,
            refitConstant: settings.estimates === 'reduced, true share',
          });
    const maximum = reduced ?? maximiseLikelihood(inputs, events, options);
    const warnings = findWarnings(inputs, events, maximum);
    const saved = save(inputs, maximum, warnings);
    return {
      fitted: revive(saved),
      size: { degrees: slopesOf(saved.summary) },
      warnings,
      describe: () => ({
        facets: facetsOf(
          saved,
          inflationFactors(inputs, saved.keptInputs, context.weights),
          // A profile counts rows: by cluster it would be too narrow.
          reduced && !context.clusters && canProfile(inputs.rowCount, saved.terms.length)
            ? reduced.profile()
            : [],
          context.clusters && robust(inputs, events, maximum, context),
        ),
        warnings: [],
      }),
    };
  },

  revive: ({ json }) => revive(savedSchema.parse(json)),
  // What repeats others is left out with a coefficient of 0.
  reads: ({ json }, names) =>
    names.filter((_, j) => savedSchema.parse(json).estimates[j + 1] !== 0),
  recall: ({ json }) => facetsOf(savedSchema.parse(json)),
};

/**
 * @param factors variance inflation by input, where the inputs are at hand
 * @param byCluster variances where rows are of one patient or group
 * @param profiles by term, where they were followed: their intervals and p are better than Wald's
 */
function facetsOf(
  saved: Saved,
  factors?: Map<string, { inflation: number }>,
  profiles: Profile[] = [],
  byCluster?: ClusterVariances,
): Facet[] {
  const byTerm = new Map(saved.terms.map((term, j) => [term, profiles[j]]));
  const lines = describeCoefficients({ ...saved, byCluster }).map((line) => ({
    ...line,
    ...factors?.get(line.term),
    ...profileLine(byTerm.get(line.term)),
  }));
  const byProfile = profiles.length > 0;
  return [
    {
      kind: 'coefficients',
      value: {
        groups: [{ lines }],
        ...(byProfile && { byProfile }),
        ...(byCluster && { byCluster: byCluster.clusters }),
      },
    },
    { kind: 'likelihood', value: saved.summary },
  ];
}

/** Variances by cluster: a row adds its weighted residual, times 1 and its inputs. */
function robust(
  inputs: Inputs,
  events: ArrayLike<number>,
  { estimates, covariance, kept }: Maximum,
  { clusters, weights }: FitContext,
): ClusterVariances {
  const risks = predict(Array.from(estimates), inputs);
  const residual = (row: number) => (weights?.[row] ?? 1) * (events[row] - risks[row]);
  const parameters = kept.filter(Boolean).length;
  return clusterVariances(
    covariance,
    estimates.length,
    parameters,
    clusters!,
    scoreOfLine(inputs, residual),
  );
}

function profileLine(profile: Profile | undefined): Pick<Coefficient, 'p' | 'oddsRatioInterval'> {
  if (profile?.p === undefined) return {};
  const [lower, upper] = (profile.interval ?? [NaN, NaN]).map(Math.exp);
  const isSayable = lower > 0 && upper < Infinity;
  return { p: profile.p, oddsRatioInterval: isSayable ? [lower, upper] : undefined };
}

function save(inputs: Inputs, maximum: Maximum, warnings: FitWarning[]): Saved {
  const { kept, estimates, covariance, summary, separation } = maximum;
  if (!estimates.every(Number.isFinite))
    throw new FitObstacle(
      'The fit lost all digits: inputs of very different size, or nearly the same.',
    );
  return {
    terms: ['Intercept', ...inputs.names],
    estimates: Array.from(estimates),
    covariance: Array.from(covariance, (value) => (Number.isFinite(value) ? value : null)),
    ...(separation && { separated: separatedTerms(separation.slopes) }),
    keptInputs: kept.slice(1),
    summary,
    warnings,
  };
}

/** The intercept goes to infinity with any input that does. */
function separatedTerms(slopes: Float64Array): boolean[] {
  const largest = slopes.reduce((most, slope) => Math.max(most, Math.abs(slope)), 0);
  return [true, ...Array.from(slopes, (slope) => Math.abs(slope) > 1e-4 * largest)];
}

function revive(saved: Saved): Fitted {
  return {
    predict: (inputs) => ({ kind: 'event', risks: predict(saved.estimates, inputs) }),
    added: (inputs, compared) => addedLine('log-odds', saved.estimates, inputs, compared),
    save: () => ({ version: 1, json: saved, arrays: {} }),
  };
}

function predict(estimates: number[], inputs: Inputs): Float64Array {
  const risks = new Float64Array(inputs.rowCount).fill(estimates[0]);
  inputs.columns.forEach((column, j) => {
    const slope = estimates[j + 1];
    if (slope !== 0) for (let i = 0; i < risks.length; i++) risks[i] += slope * column[i];
  });
  return risks.map(logistic);
}
