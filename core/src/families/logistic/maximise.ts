import { factorise, invert, solve, type Factor } from '../../numeric/index.ts';
import type { Inputs } from '../../preparation/index.ts';
import type { LikelihoodSummary } from '../family.ts';
import { separatingDirection, type Direction } from './separating-direction.ts';
import { along, newBlock, scoreAndInformation, type Centred } from './information.ts';

/** The maximum-likelihood estimate with what was seen on the way. Intercept first everywhere. */
export interface Maximum {
  estimates: Float64Array;
  /** Inverse Fisher information, row-major. */
  covariance: Float64Array;
  /** False where an input repeats earlier ones; its estimate is 0. */
  kept: boolean[];
  converged: boolean;
  /** Whether a further step would change some patient's log-odds: they have not come to rest. */
  restless: boolean;
  /** Where the outcome is separated: the direction in which the likelihood rises for ever. */
  separation?: Direction;
  summary: LikelihoodSummary;
}

export interface MaximiseOptions {
  iterations: number;
  weights?: Float64Array;
  progress?: (share: number) => void;
}

/**
 * Newton-Raphson (for the logit link the same as Fisher scoring) with step halving. Inputs are
 * centred and scaled inside, so that a badly scaled input costs no digits, and estimates and
 * covariance are carried back. Stops when the relative change of the deviance is under 1e-13.
 *
 * @param events 1 or 0 a patient
 */
export function maximiseLikelihood(
  inputs: Inputs,
  events: ArrayLike<number>,
  { iterations, weights, progress }: MaximiseOptions,
): Maximum {
  const centred = centre(inputs, weights);
  const size = inputs.columns.length + 1;
  const totals = countWeights(inputs.rowCount, events, weights);
  const { estimates: start, nullDeviance } = startingPoint(
    inputs,
    events,
    weights,
    centred,
    totals,
  );
  let estimates = start;
  const block = newBlock(size);
  let state = scoreAndInformation(centred, events, weights, estimates, block);
  let factor = factorise(state.information, size);
  const { kept } = factor;
  let converged = false;
  let done = 0;
  while (done < iterations && !converged) {
    done++;
    const before = state.deviance;
    const step = solve(factor, state.score);
    let share = 1;
    for (;;) {
      const next = estimates.map((value, j) => value + share * step[j]);
      const nextState = scoreAndInformation(centred, events, weights, next, block);
      if (nextState.deviance <= before + 1e-10 * (before + 1) || share < 1e-4) {
        estimates = next;
        state = nextState;
        break;
      }
      share /= 2;
    }
    converged = Math.abs(before - state.deviance) <= 1e-13 * (Math.abs(state.deviance) + 0.1);
    factor = keepOnly(factorise(state.information, size, 0), kept);
    progress?.(done / iterations);
  }
  const inverse = invert(factor);
  const restless = isRestless(centred, solve(factor, state.score));
  const patients = inputs.rowCount;
  const parameters = kept.filter(Boolean).length;
  return {
    ...uncentre(centred, estimates, inverse),
    kept,
    converged,
    restless,
    ...(restless && { separation: separatingDirection(centred, events, estimates) }),
    summary: {
      patients,
      events: totals.events,
      logLikelihood: -state.deviance / 2,
      nullDeviance,
      nullDegrees: patients - 1,
      residualDeviance: state.deviance,
      residualDegrees: patients - parameters,
      aic: state.deviance + 2 * parameters,
      iterations: done,
    },
  };
}

/** From this many patients on, a sample is fitted first. */
const largeCohort = 20_000;
const sampleEvery = 16;

/**
 * Where the steps begin: the share of events alone, or for a large cohort the estimate of every
 * sixteenth patient, from which two or three steps are left instead of seven. The maximum is the
 * same one: the likelihood is concave.
 */
function startingPoint(
  inputs: Inputs,
  events: ArrayLike<number>,
  weights: Float64Array | undefined,
  { means, scales }: Centred,
  totals: { patients: number; events: number },
) {
  const { patients, events: withEvent } = totals;
  const without = patients - withEvent;
  const term = (count: number) => (count > 0 ? count * Math.log(count / patients) : 0);
  const nullDeviance = -2 * (term(withEvent) + term(without));
  const estimates = new Float64Array(inputs.columns.length + 1);
  estimates[0] = Math.log(withEvent / without);
  if (weights || inputs.rowCount < largeCohort) return { estimates, nullDeviance };
  const rows = Math.floor(inputs.rowCount / sampleEvery);
  const every = (values: ArrayLike<number>) => {
    const some = new Float64Array(rows);
    for (let i = 0; i < rows; i++) some[i] = values[i * sampleEvery];
    return some;
  };
  const columns = inputs.columns.map(every);
  const sample = { rowCount: rows, names: inputs.names, columns };
  const sampled = maximiseLikelihood(sample, every(events), { iterations: 25 });
  if (!sampled.converged || sampled.restless) return { estimates, nullDeviance };
  estimates[0] = sampled.estimates[0];
  means.forEach((mean, j) => {
    estimates[0] += sampled.estimates[j + 1] * mean;
    estimates[j + 1] = sampled.estimates[j + 1] * scales[j];
  });
  return { estimates, nullDeviance };
}

function countWeights(rows: number, events: ArrayLike<number>, weights?: Float64Array) {
  let patients = 0;
  let withEvent = 0;
  for (let i = 0; i < rows; i++) {
    const weight = weights ? weights[i] : 1;
    patients += weight;
    withEvent += weight * events[i];
  }
  return { patients, events: withEvent };
}

/** Mean and SD of each input; a constant one becomes 0 and is left out by its pivot. */
function centre({ rowCount, columns }: Inputs, weights?: Float64Array): Centred {
  const means: number[] = [];
  const scales: number[] = [];
  const factors: number[] = [];
  for (const column of columns) {
    const { mean, scale } = weights ? weightedMoments(column, weights) : moments(column);
    const usable = scale > 1e-12 * Math.abs(mean) && scale > 0;
    means.push(mean);
    scales.push(usable ? scale : 1);
    factors.push(usable ? 1 / scale : 0);
  }
  return { rowCount, columns, means, scales, factors };
}

/** Relative to the first value, so that one pass loses no digits where the values lie far from 0. */
function moments(column: Float64Array) {
  const origin = column[0];
  let sum = 0;
  let squares = 0;
  for (let i = 0; i < column.length; i++) {
    const away = column[i] - origin;
    sum += away;
    squares += away * away;
  }
  const mean = sum / column.length;
  return {
    mean: origin + mean,
    scale: Math.sqrt(Math.max(0, squares / column.length - mean ** 2)),
  };
}

function weightedMoments(column: Float64Array, weights: Float64Array) {
  let total = 0;
  let sum = 0;
  for (let i = 0; i < column.length; i++) {
    total += weights[i];
    sum += weights[i] * column[i];
  }
  const mean = sum / total;
  let squares = 0;
  for (let i = 0; i < column.length; i++) squares += weights[i] * (column[i] - mean) ** 2;
  return { mean, scale: Math.sqrt(squares / total) };
}

/** Estimates and covariance on the scale of the inputs as given: b' = T b, V' = T V Tᵗ. */
function uncentre({ means, scales }: Centred, estimates: Float64Array, inverse: Float64Array) {
  const size = estimates.length;
  const back = new Float64Array(size);
  back[0] = estimates[0];
  for (let j = 1; j < size; j++) {
    back[j] = estimates[j] / scales[j - 1];
    back[0] -= back[j] * means[j - 1];
  }
  const intercept = Float64Array.from({ length: size }, (_, j) =>
    j === 0 ? 1 : -means[j - 1] / scales[j - 1],
  );
  const covariance = new Float64Array(size * size);
  const interceptRow = new Float64Array(size);
  for (let j = 0; j < size; j++)
    for (let k = 0; k < size; k++) interceptRow[j] += intercept[k] * inverse[k * size + j];
  for (let j = 1; j < size; j++)
    for (let k = 1; k < size; k++)
      covariance[j * size + k] = inverse[j * size + k] / (scales[j - 1] * scales[k - 1]);
  for (let j = 0; j < size; j++) covariance[0] += interceptRow[j] * intercept[j];
  for (let j = 1; j < size; j++)
    covariance[j] = covariance[j * size] = interceptRow[j] / scales[j - 1];
  return { estimates: back, covariance };
}

/** Later steps leave out what the first left out, so that the number of parameters stays the same. */
function keepOnly(factor: Factor, kept: boolean[]): Factor {
  return { ...factor, kept: factor.kept.map((usable, j) => usable && kept[j]) };
}

/** A patient whose log-odds still change by this much in a step is on the way to infinity. */
const stillMoving = 0.05;

/**
 * Whether the step after the last would still change anything. Where there is a maximum it does not:
 * the steps close in on it quadratically, and the last one changed the deviance by 1e-13. Where there
 * is none, each step takes the log-odds of the patients who are told apart about one further.
 */
function isRestless(inputs: Centred, step: Float64Array): boolean {
  const moves = along(inputs, step);
  for (let i = 0; i < moves.length; i++) if (Math.abs(moves[i]) >= stillMoving) return true;
  return false;
}
