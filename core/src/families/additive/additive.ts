import * as z from 'zod';
import type { Inputs } from '../../inputs/index.ts';
import { ofKind, type Outcome } from '../../outcome/index.ts';
import type { Clusters } from '../../measures/index.ts';
import type { Facet } from '../facets.ts';
import type { Family, Fitted, FitWarning } from '../family.ts';
import {
  addedTerms,
  directionsOf,
  directionWarnings,
  leftOut,
  noInputs,
  saidFrom,
} from '../shared/index.ts';
import { additive as description } from './description.ts';
import { coefficientsOf, designOf, type Design, type Term } from './design.ts';
import { followEvent, followNumber, type Fit } from './fit.ts';
import { curveOf } from './spline.ts';
import { precisionOf } from './precision.ts';
import { curvesShown, linesShown } from './told.ts';

/** Penalised regression splines (Eilers & Marx 1996, Statistical Science 11:89-121; Wood 2017). */
export const additiveModel: Family = {
  description,

  fit(inputs, outcome, settings, { weights: given, progress, clusters }) {
    if (outcome.kind === 'levels') ofKind(outcome, 'event');
    const weights = given ?? new Float64Array(inputs.rowCount).fill(1);
    const patients = weights.reduce((sum, one) => sum + one, 0);
    const design = designOf(inputs, weights, Number(settings.knots), settings.straight as string[]);
    const directions = directionsOf(inputs, outcome, settings);
    const directionOf = (input: string) => directions?.[inputs.names.indexOf(input)] ?? 0;
    const rules = {
      by: settings.smoothness as 'likelihood' | 'validation',
      termDirections: Int8Array.from(design.terms, ({ input }) => directionOf(input)),
      lineDirections: Int8Array.from(design.lines, ({ input }) => directionOf(input)),
      patients,
    };
    const isNumber = outcome.kind === 'number';
    const found = isNumber
      ? followNumber(design, Float64Array.from(outcome.values), weights, rules)
      : followEvent(design, outcome.values, weights, rules, progress);
    const curves = design.terms.map((term, t) =>
      kept(coefficientsOf(term, found.coefficients), rules.termDirections[t]),
    );
    const fit = {
      ...found,
      coefficients: keptLines(design, found.coefficients, rules.lineDirections),
    };
    const known = knownOf(outcome, design, fit, curves);
    const used = fit.degrees.reduce((sum, one) => sum + one, 0);
    return {
      fitted: fitted(known),
      size: { degrees: used - 1 },
      warnings: warningsOf(inputs, outcome, settings, design, fit),
      describe: () => ({
        facets: design.size === 1 ? [] : [termsOf(outcome, design, fit, curves, weights, clusters)],
        warnings: [],
      }),
    };
  },

  revive: ({ json }) => fitted(knownSchema.parse(json)),
};

function termsOf(
  outcome: Outcome,
  design: Design,
  fit: Fit,
  curves: Float64Array[],
  weights: Float64Array,
  clusters?: Clusters,
): Facet {
  const kind = outcome.kind === 'number' ? 'number' : 'event';
  const { values } = outcome;
  const precision = precisionOf(design, fit, { kind, values, weights, clusters });
  return {
    kind: 'terms',
    value: {
      outcome: kind,
      patients: weights.reduce((sum, one) => sum + one, 0),
      degrees: fit.degrees.reduce((sum, one) => sum + one, 0),
      explained: fit.plain > 0 ? 1 - fit.deviance / fit.plain : 0,
      ...(kind === 'number' && { deviation: Math.sqrt(fit.scale) }),
      iterations: fit.iterations,
      ...(clusters && { byCluster: clusters.count }),
      curves: curvesShown(design, fit.degrees, curves, weights, precision),
      lines: linesShown(design, fit.coefficients, precision),
    },
  };
}

const knownSchema = z.object({
  kind: z.enum(['event', 'number']),
  constant: z.number(),
  lines: z.array(z.object({ input: z.string(), slope: z.number() })),
  curves: z.array(
    z.object({ input: z.string(), knots: z.array(z.number()), coefficients: z.array(z.number()) }),
  ),
});
type Known = z.infer<typeof knownSchema>;

/** What was held to go one way up to a trifle goes it to the last bit. */
function kept(coefficients: Float64Array, direction: number): Float64Array {
  if (direction === 0) return coefficients;
  for (let k = 1; k < coefficients.length; k++)
    if (direction * (coefficients[k] - coefficients[k - 1]) < 0)
      coefficients[k] = coefficients[k - 1];
  return coefficients;
}

function keptLines(
  { lines }: Design,
  coefficients: Float64Array,
  directions: Int8Array,
): Float64Array {
  const own = coefficients.slice();
  lines.forEach(({ at }, k) => {
    if (directions[k] * own[at] < 0) own[at] = 0;
  });
  return own;
}

/** With what was taken off as a mean put into the constant. */
function knownOf(
  outcome: Outcome,
  { lines, terms }: Design,
  fit: Fit,
  curves: Float64Array[],
): Known {
  const { coefficients } = fit;
  const middle = ({ means }: Term, t: number) =>
    curves[t].reduce((sum, one, k) => sum + one * means[k], 0);
  const constant =
    coefficients[0] -
    lines.reduce((sum, { at, mean }) => sum + coefficients[at] * mean, 0) -
    terms.reduce((sum, term, t) => sum + middle(term, t), 0);
  return {
    kind: outcome.kind === 'number' ? 'number' : 'event',
    constant,
    lines: lines.map(({ input, at }) => ({ input, slope: coefficients[at] })),
    curves: terms.map(({ input, spline }, t) => ({
      input,
      knots: spline.knots,
      coefficients: Array.from(curves[t]),
    })),
  };
}

function warningsOf(
  inputs: Inputs,
  outcome: Outcome,
  settings: Parameters<Family['fit']>[2],
  { size, lines }: Design,
  { settled, inverse, iterations }: Fit,
): FitWarning[] {
  if (size === 1) return [noInputs('everybody gets what all have')];
  const repeats = lines.filter(({ at }) => inverse[at * size + at] === 0);
  return [
    ...(settled
      ? []
      : [
          {
            code: 'not converged' as const,
            sentence: `Curves and their smoothness had not settled after ${iterations} steps: the outcome may be separated, or patients are too few for so many curves. Give straight lines to some.`,
          },
        ]),
    ...(repeats.length > 0 ? [leftOut(repeats.map(({ input }) => input))] : []),
    ...directionWarnings(inputs, outcome, settings),
  ];
}

function fitted(known: Known): Fitted {
  return {
    predict(inputs) {
      const columnOf = (name: string) => {
        const j = inputs.names.indexOf(name);
        if (j < 0) throw new Error(`The model reads ${name}, which is not among the inputs.`);
        return inputs.columns[j];
      };
      const sums = new Float64Array(inputs.rowCount).fill(known.constant);
      for (const { input, slope } of known.lines) {
        const column = columnOf(input);
        for (let i = 0; i < sums.length; i++) sums[i] += slope * column[i];
      }
      for (const { input, knots, coefficients } of known.curves) {
        const column = columnOf(input);
        const curve = curveOf({ knots }, coefficients);
        for (let i = 0; i < sums.length; i++) sums[i] += curve(column[i]);
      }
      return saidFrom(known.kind, [], sums);
    },
    added(inputs, compared) {
      const terms = new Map<string, (value: number) => number>();
      for (const { input, slope } of known.lines) terms.set(input, (value) => slope * value);
      for (const { input, knots, coefficients } of known.curves)
        terms.set(input, curveOf({ knots }, coefficients));
      const scale = known.kind === 'number' ? 'said' : 'log-odds';
      return addedTerms(scale, known.constant, inputs, compared, (j) => terms.get(inputs.names[j]));
    },
    save: () => ({ version: 1, json: known, arrays: {} }),
  };
}
