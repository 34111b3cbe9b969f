import * as z from 'zod';
import type { Inputs } from '../../inputs/index.ts';
import type { Outcome } from '../../outcome/index.ts';
import type { Facet, PathShown } from '../facets.ts';
import {
  FitObstacle,
  type Family,
  type Fitted,
  type FitWarning,
  type ModelSize,
} from '../family.ts';
import { addedLine, byName, directionsOf, directionWarnings, noInputs } from '../shared/index.ts';
import { fewest, lossSum, tryStrengths, type TriedStrengths } from './choose.ts';
import { penalised as description } from './description.ts';
import { linearOf, saidBy } from './linear.ts';
import { outcomeUnit, standardised, type OutcomeUnit } from './outcome-unit.ts';
import { followPath, type PathPoint, type PathTask } from './path.ts';
import { strengthRange, strengthsFrom, type StrengthRange } from './strengths.ts';

const knownSchema = z.object({
  kind: z.enum(['event', 'levels', 'number']),
  levels: z.array(z.string()).optional(),
  /** Of each linear predictor the constant, then a coefficient for each input. */
  coefficients: z.array(z.array(z.number())).min(1),
});
type Known = z.infer<typeof knownSchema>;

/**
 * Lasso, ridge and what lies between, along a path of strengths (Tibshirani 1996, JRSS B 58:267-288; Zou &
 * Hastie 2005, JRSS B 67:301-320); see `followPath` and `tryStrengths`.
 */
export const penalisedRegression: Family = {
  description,

  fit(inputs, outcome, settings, { seed, weights, progress, alongValues }) {
    const { columns, rowCount } = inputs;
    const { task, turned, unit } = taskOf(inputs, outcome, settings, weights);
    const given = settings.strengthBy === 'given' ? Number(settings.strength) : undefined;
    const asked = given === undefined ? [] : [...(alongValues ?? []), given];
    const strengths = gridOf(columns.length > 0 ? strengthRange(task) : undefined, asked);
    const canTry = strengths.length > 0 && rowCount >= fewest;
    const trying = (share: number) =>
      tryStrengths(task, strengths, seed, (done) => progress?.(share * done));
    const tried = canTry && given === undefined ? trying(0.9) : undefined;
    const chosen = placeOf(strengths, given, tried, settings.strengthBy === 'simplest');
    // To the end only where it is shown.
    const points = followPath(task, chosen < 0 ? [1] : strengths.slice(0, chosen + 1), false);
    progress?.(1);
    const knownAt = (place: number): Known => ({
      kind: outcome.kind,
      ...(outcome.kind === 'levels' && { levels: outcome.levels }),
      coefficients: turned(points[place]).map((own) => Array.from(own)),
    });
    const known = knownAt(points.length - 1);
    if (!known.coefficients.flat().every(Number.isFinite))
      throw new FitObstacle('The path lost all digits: inputs of very different size.');
    return {
      fitted: fitted(known, (strength) => {
        const place = strengths.indexOf(strength);
        return place < 0 || place >= points.length ? known : knownAt(place);
      }),
      size: sizeOf(known, task.mix === 1 && !task.groups),
      warnings: warningsOf(inputs, outcome, settings, known, canTry || given !== undefined),
      describe: () => ({
        facets: canTry
          ? [pathFacet(task, unit, inputs.names, strengths, chosen, tried ?? trying(1))]
          : [],
        warnings: [],
      }),
    };
  },

  revive: ({ json }) => fitted(knownSchema.parse(json)),

  reads({ json }, names) {
    const { coefficients } = knownSchema.parse(json);
    return names.filter((_, j) => coefficients.some((own) => own[j + 1] !== 0));
  },
};

/**
 * Inputs with a coefficient. Of a lasso, coefficients are as many as effective degrees of freedom on
 * average (Zou, Hastie & Tibshirani 2007, Annals of Statistics 35:2173-2192).
 */
function sizeOf({ coefficients }: Known, isLasso: boolean): Partial<ModelSize> {
  const slopes = coefficients.map((own) => own.slice(1));
  const inputs = slopes[0].filter((_, j) => slopes.some((own) => own[j] !== 0)).length;
  const degrees = slopes.flat().filter((slope) => slope !== 0).length;
  return { inputs, ...(isLasso && slopes.length === 1 && { degrees }) };
}

/** The strengths of the path, and among them those that were asked for; none where no input tells anything. */
function gridOf(range: StrengthRange | undefined, asked: number[]): number[] {
  if (!range) return [];
  const grid = strengthsFrom(range.strongest, range.weakest);
  return [...new Set([...grid, ...asked])].sort((one, other) => other - one);
}

/** -1 where no input varies with the outcome. */
function placeOf(
  strengths: number[],
  given: number | undefined,
  tried: TriedStrengths | undefined,
  simplest: boolean,
): number {
  if (given !== undefined) return strengths.indexOf(given);
  // Where nothing can be tried, nothing is taken for granted.
  if (!tried) return Math.min(0, strengths.length - 1);
  return simplest ? tried.simplest : tried.best;
}

interface Arranged {
  task: PathTask;
  /** A point of the path with its coefficients in the order and the units of the table. */
  turned: (point: PathPoint) => PathPoint;
  /** What the outcome was centred and divided by. */
  unit: OutcomeUnit;
}

/**
 * The task with inputs sorted by name, so that descent does not depend on the order of the table, and with a
 * number outcome of mean 0 and SD 1, so that strengths do not depend on its unit.
 */
function taskOf(
  inputs: Inputs,
  outcome: Outcome,
  settings: Parameters<Family['fit']>[2],
  weights?: Float64Array,
): Arranged {
  const order = byName(inputs.names);
  const directions = directionsOf(inputs, outcome, settings);
  const sources = inputs.sources ?? inputs.names;
  const names = [...new Set(sources)];
  const unit = outcomeUnit(outcome, weights);
  const task: PathTask = {
    inputs: {
      rowCount: inputs.rowCount,
      names: Array.from(order, (j) => inputs.names[j]),
      columns: Array.from(order, (j) => inputs.columns[j]),
      ...(inputs.scaled && { scaled: Array.from(order, (j) => inputs.scaled![j]) }),
    },
    outcome: standardised(outcome, unit),
    ...(weights && { weights }),
    mix: Number(settings.mix),
    ...(settings.together === true && {
      groups: Int32Array.from(order, (j) => names.indexOf(sources[j])),
    }),
    ...(directions && { directions: Int8Array.from(order, (j) => directions[j]) }),
  };
  return {
    task,
    unit,
    turned: (point) =>
      point.map((own) => {
        const back = own.slice();
        back[0] = unit.mean + unit.sd * own[0];
        order.forEach((j, place) => (back[j + 1] = unit.sd * own[place + 1]));
        return back;
      }),
  };
}

function warningsOf(
  inputs: Inputs,
  outcome: Outcome,
  settings: Parameters<Family['fit']>[2],
  { coefficients }: Known,
  isChosen: boolean,
): FitWarning[] {
  const everybody = 'everybody gets what all have';
  if (inputs.columns.length === 0) return [noInputs(everybody)];
  const warnings = directionWarnings(inputs, outcome, settings);
  if (coefficients.some((own) => own.slice(1).some((one) => one !== 0))) return warnings;
  return [
    ...warnings,
    {
      code: 'no inputs',
      sentence: isChosen
        ? `At this strength no predictor is left: ${everybody}.`
        : `Fewer than ${fewest} patients cannot be dealt into inner folds to try strengths, so no predictor is used: ${everybody}. Give a strength of your own.`,
    },
  ];
}

/** Inputs of whom the way is kept: those that come in first. */
const mostShown = 60;

function pathFacet(
  task: PathTask,
  unit: OutcomeUnit,
  names: string[],
  strengths: number[],
  chosen: number,
  { mean, error, best, simplest }: TriedStrengths,
): Facet {
  const { inputs, outcome, weights, mix } = task;
  const points = followPath(task, strengths, false);
  const square = unit.sd ** 2;
  const without = { ...inputs, names: [], columns: [] };
  const [nothing] = followPath({ ...task, inputs: without }, [1], true);
  const own = weights ?? new Float64Array(inputs.rowCount).fill(1);
  const total = own.reduce((sum, one) => sum + one, 0);
  const deviations = inputs.columns.map((column) => deviationOf(column, own, total));
  const levels = outcome.kind === 'levels' ? outcome.levels : undefined;
  const lines = inputs.names.map((input, j): PathShown['lines'][number] => {
    const ways = points[0].map((_, block) => points.map((point) => unit.sd * point[block][j + 1]));
    return { input, deviation: deviations[j], ways };
  });
  const entry = ({ ways }: PathShown['lines'][number]) => {
    const first = strengths.findIndex((_, place) => ways.some((way) => way[place] !== 0));
    return first < 0 ? Infinity : first;
  };
  const size = ({ ways, deviation }: PathShown['lines'][number]) =>
    Math.max(...ways.flat().map(Math.abs)) * deviation;
  const place = new Map(names.map((name, j) => [name, j]));
  const kept = lines
    .toSorted((a, b) => entry(a) - entry(b) || size(b) - size(a))
    .slice(0, mostShown)
    .sort((a, b) => place.get(a.input)! - place.get(b.input)!);
  return {
    kind: 'path',
    value: {
      mix,
      loss: outcome.kind === 'number' ? 'mean squared error' : 'log loss',
      strengths,
      ...(levels && { levels }),
      constants: points[0].map((_, block) =>
        points.map((point) => unit.mean + unit.sd * point[block][0]),
      ),
      lines: kept,
      inputs: names.length,
      counts: strengths.map(
        (_, at) => lines.filter(({ ways }) => ways.some((way) => way[at] !== 0)).length,
      ),
      tried: {
        mean: Array.from(mean, (loss) => loss * square),
        error: Array.from(error, (of) => of * square),
        best,
        simplest,
      },
      plain: (square * lossSum(nothing, without, outcome, own)) / total,
      chosen,
    },
  };
}

/** SD with divisor n. */
function deviationOf(column: Float64Array, weights: Float64Array, total: number): number {
  let [sum, squares] = [0, 0];
  for (let i = 0; i < column.length; i++) sum += weights[i] * column[i];
  const mean = sum / total;
  for (let i = 0; i < column.length; i++) squares += weights[i] * (column[i] - mean) ** 2;
  return Math.sqrt(squares / total);
}

/** @param at what is known with another strength on the way; only while the fit is at hand */
function fitted(known: Known, at: (strength: number) => Known = () => known): Fitted {
  return {
    predict(inputs, along) {
      const { kind, levels = [], coefficients } = along === undefined ? known : at(along);
      return saidBy(kind, levels, linearOf(coefficients, inputs));
    },
    added(inputs, compared) {
      const { kind, coefficients } = known;
      if (kind === 'levels') return undefined;
      return addedLine(kind === 'number' ? 'said' : 'log-odds', coefficients[0], inputs, compared);
    },
    save: () => ({ version: 1, json: known, arrays: {} }),
  };
}
