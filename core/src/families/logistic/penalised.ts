import { factorise, invert, solve } from '../../numeric/index.ts';
import type { Centred } from '../shared/index.ts';

/** Patients as rows of centred inputs, 1 in front for the constant. */
export interface Rows {
  /** Patients × size, row-major. */
  x: Float64Array;
  size: number;
  events: ArrayLike<number>;
  weights?: Float64Array;
}

/** Where the penalised likelihood is greatest, perhaps with one coefficient held. */
export interface Penalised {
  estimates: Float64Array;
  /** Log-likelihood + half of the logarithm of the information's determinant. */
  value: number;
  logLikelihood: number;
  /** Of the information; false where an input repeats earlier ones. */
  kept: boolean[];
  inverse: Float64Array;
  converged: boolean;
  iterations: number;
}

export interface Held {
  term: number;
  at: number;
}

/**
 * Estimates whose bias is removed to first order (Firth 1993, Biometrika 80:27-38): the log-likelihood and
 * half of log det of the information together are greatest. They are finite where the outcome is separated
 * (Heinze & Schemper 2002, Statistics in Medicine 21:2409-2419).
 *
 * Steps are Newton's on the information of patients who count 1 + leverage, which is nearly the second
 * derivative; they end when no coefficient moves by more than 1e-10 of an SD of its input.
 *
 * @param held a coefficient that stays where it is; the determinant remains that of all
 */
export function penalisedMaximum(
  rows: Rows,
  start: Float64Array,
  iterations: number,
  held?: Held,
  progress?: (share: number) => void,
): Penalised {
  let estimates = start.slice();
  if (held) estimates[held.term] = held.at;
  let state = stateAt(rows, estimates);
  let converged = false;
  let done = 0;
  while (done < iterations && !converged) {
    done++;
    const step = stepFrom(rows, state, held);
    for (let share = 1; ; share /= 2) {
      const next = estimates.map((value, j) => value + share * step[j]);
      const nextState = stateAt(rows, next);
      if (nextState.value >= state.value - 1e-10 * (Math.abs(state.value) + 1) || share < 1e-4) {
        estimates = next;
        state = nextState;
        break;
      }
    }
    converged = step.every((move) => Math.abs(move) < 1e-10);
    progress?.(done / iterations);
  }
  const { value, logLikelihood, kept, inverse } = state;
  return { estimates, value, logLikelihood, kept, inverse, converged, iterations: done };
}

/** Centred and scaled inputs, patient by patient. */
export function rowsOf(
  { rowCount, columns, means, factors }: Centred,
  events: ArrayLike<number>,
  weights?: Float64Array,
): Rows {
  const size = columns.length + 1;
  const x = new Float64Array(rowCount * size);
  for (let row = 0; row < rowCount; row++) {
    x[row * size] = 1;
    for (let j = 1; j < size; j++)
      x[row * size + j] = (columns[j - 1][row] - means[j - 1]) * factors[j - 1];
  }
  return { x, size, events, ...(weights && { weights }) };
}

interface State {
  risks: Float64Array;
  value: number;
  logLikelihood: number;
  kept: boolean[];
  inverse: Float64Array;
}

function stateAt({ x, size, events, weights }: Rows, estimates: Float64Array): State {
  const count = x.length / size;
  const risks = new Float64Array(count);
  const information = new Float64Array(size * size);
  let logLikelihood = 0;
  for (let row = 0; row < count; row++) {
    const at = row * size;
    let linear = 0;
    for (let j = 0; j < size; j++) linear += estimates[j] * x[at + j];
    // Written so that neither risk nor logarithm loses digits.
    const e = Math.exp(-Math.abs(linear));
    const isAgainst = linear > 0 === (events[row] === 0);
    const weight = weights ? weights[row] : 1;
    risks[row] = linear >= 0 ? 1 / (1 + e) : e / (1 + e);
    logLikelihood -= weight * (Math.log1p(e) + (isAgainst ? Math.abs(linear) : 0));
    addProducts(information, size, x, at, (weight * e) / (1 + e) ** 2);
  }
  const factor = factorise(information, size);
  let determinant = 0;
  for (let j = 0; j < size; j++)
    if (factor.kept[j]) determinant += 2 * Math.log(factor.lower[j * size + j]);
  return {
    risks,
    value: logLikelihood + determinant / 2,
    logLikelihood,
    kept: factor.kept,
    inverse: invert(factor),
  };
}

function stepFrom(
  { x, size, events, weights }: Rows,
  { risks, inverse, kept }: State,
  held: Held | undefined,
): Float64Array {
  const score = new Float64Array(size);
  const information = new Float64Array(size * size);
  for (let row = 0; row < risks.length; row++) {
    const at = row * size;
    const risk = risks[row];
    const weight = weights ? weights[row] : 1;
    const spread = risk * (1 - risk);
    let leverage = 0;
    for (let j = 0; j < size; j++) {
      let sum = 0;
      for (let k = 0; k < j; k++) sum += inverse[j * size + k] * x[at + k];
      leverage += x[at + j] * (2 * sum + inverse[j * size + j] * x[at + j]);
    }
    leverage *= spread;
    const residual = weight * (events[row] - risk + leverage * (0.5 - risk));
    for (let j = 0; j < size; j++) score[j] += residual * x[at + j];
    addProducts(information, size, x, at, weight * spread * (1 + leverage));
  }
  // What is nothing but zeros is left out, and stays where it is.
  for (let j = 0; j < size; j++)
    if (!kept[j] || held?.term === j)
      for (let k = 0; k < size; k++) information[j * size + k] = information[k * size + j] = 0;
  return solve(factorise(information, size, 0), score);
}

/** Adds to the lower triangle. */
function addProducts(sums: Float64Array, size: number, x: Float64Array, at: number, by: number) {
  for (let j = 0; j < size; j++) {
    const scaled = by * x[at + j];
    for (let k = 0; k <= j; k++) sums[j * size + k] += scaled * x[at + k];
  }
}
