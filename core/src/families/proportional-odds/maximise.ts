import { invert } from '../../numeric/index.ts';
import type { Inputs } from '../../preparation/index.ts';
import type { LikelihoodSummary } from '../facets.ts';
import {
  along,
  centre,
  type Centred,
  countCodes,
  devianceOfShares,
  isRestless,
  keptInputs,
  largeCohort,
  likelihoodSummary,
  newBlock,
  sampleOf,
  settle,
} from '../shared/index.ts';
import { scoreAndInformation, type Graded } from './information.ts';
import { separatingDirection, type Direction } from './separating-direction.ts';

export interface OrdinalMaximum {
  /** Codes of the levels that some patient has, in their order; thresholds lie between them. */
  present: number[];
  thresholds: Float64Array;
  slopes: Float64Array;
  /** Inverse observed information, row-major, thresholds first. */
  covariance: Float64Array;
  kept: boolean[];
  converged: boolean;
  restless: boolean;
  separation?: Direction;
  summary: LikelihoodSummary;
}

export interface OrdinalOptions {
  iterations: number;
  weights?: Float64Array;
  progress?: (share: number) => void;
}

/** Proportional odds by Newton's steps. @param codes level of each patient, from 0, in their order */
export function maximiseOrdinal(
  inputs: Inputs,
  codes: ArrayLike<number>,
  levels: number,
  { iterations, weights, progress }: OrdinalOptions,
): OrdinalMaximum {
  const counts = countCodes(codes, levels, weights);
  const present = [...counts.keys()].filter((code) => counts[code] > 0);
  const centred = centre(inputs, weights);
  const fit: Graded = {
    inputs: centred,
    steps: stepsOf(codes, present, levels),
    thresholds: present.length - 1,
    weights,
  };
  const kept = keptInputs(centred);
  const block = newBlock(inputs.columns.length + 1);
  const settled = settle(
    startingPoint(inputs, codes, levels, { weights, counts, present, centred }),
    [...present.slice(1).map(() => true), ...kept],
    (estimates) => scoreAndInformation(fit, estimates, block),
    iterations,
    progress,
  );
  const { estimates, step } = settled;
  const restless = isRestless(movesOf(fit, step));
  const patients = counts.reduce((sum, count) => sum + count, 0);
  return {
    present,
    ...uncentre(fit, estimates, invert(settled.factor)),
    kept,
    converged: settled.converged,
    restless,
    ...(restless && { separation: separatingDirection(fit, estimates) }),
    summary: likelihoodSummary({
      patients,
      levels: present.length,
      deviance: settled.state.deviance,
      nullDeviance: devianceOfShares(counts),
      parameters: fit.thresholds + kept.filter(Boolean).length,
      nullParameters: fit.thresholds,
      iterations: settled.iterations,
    }),
  };
}

function stepsOf(codes: ArrayLike<number>, present: number[], levels: number): Int32Array {
  const places = Int32Array.from({ length: levels }, (_, code) => present.indexOf(code));
  const steps = new Int32Array(codes.length);
  for (let i = 0; i < steps.length; i++) steps[i] = places[codes[i]];
  return steps;
}

/** How far each patient's place between the thresholds moves along a direction. */
function movesOf({ inputs, steps, thresholds }: Graded, direction: Float64Array): Float64Array {
  const withoutThreshold = new Float64Array(inputs.columns.length + 1);
  withoutThreshold.set(direction.subarray(thresholds), 1);
  const moves = along(inputs, withoutThreshold);
  for (let i = 0; i < moves.length; i++) {
    const linear = moves[i];
    const upper = steps[i] < thresholds ? Math.abs(direction[steps[i]] - linear) : 0;
    const lower = steps[i] > 0 ? Math.abs(direction[steps[i] - 1] - linear) : 0;
    moves[i] = Math.max(upper, lower);
  }
  return moves;
}

/** The shares alone, or for a large cohort the estimate of a sample. */
function startingPoint(
  inputs: Inputs,
  codes: ArrayLike<number>,
  levels: number,
  known: { weights?: Float64Array; counts: Float64Array; present: number[]; centred: Centred },
): Float64Array {
  const { weights, counts, present, centred } = known;
  const thresholds = present.length - 1;
  const start = new Float64Array(thresholds + inputs.columns.length);
  let below = 0;
  const total = counts.reduce((sum, count) => sum + count, 0);
  for (let k = 0; k < thresholds; k++) {
    below += counts[present[k]];
    start[k] = Math.log(below / (total - below));
  }
  if (weights || inputs.rowCount < largeCohort) return start;
  const sample = sampleOf(inputs, codes);
  const sampled = maximiseOrdinal(sample.inputs, sample.outcome, levels, { iterations: 25 });
  const usable =
    sampled.converged && !sampled.restless && sampled.present.length === present.length;
  if (!usable) return start;
  start.set(sampled.thresholds);
  centred.means.forEach((mean, j) => {
    start[thresholds + j] = sampled.slopes[j] * centred.scales[j];
    for (let k = 0; k < thresholds; k++) start[k] -= sampled.slopes[j] * mean;
  });
  return start;
}

/** Back to the scale of the inputs: slope / scale, and threshold + Σ slope × mean / scale. */
function uncentre({ inputs, thresholds }: Graded, estimates: Float64Array, inverse: Float64Array) {
  const { means, scales } = inputs;
  const size = estimates.length;
  const carry = (column: (row: number) => number, to: Float64Array, stride: number, at: number) => {
    let shift = 0;
    means.forEach((mean, j) => {
      const value = column(thresholds + j) / scales[j];
      to[at + (thresholds + j) * stride] = value;
      shift += value * mean;
    });
    for (let k = 0; k < thresholds; k++) to[at + k * stride] = column(k) + shift;
  };
  const back = new Float64Array(size);
  carry((row) => estimates[row], back, 1, 0);
  // V' = T V Tᵗ: first the rows of each column, then the columns of each row.
  const half = new Float64Array(size * size);
  for (let j = 0; j < size; j++) carry((row) => inverse[row * size + j], half, size, j);
  const covariance = new Float64Array(size * size);
  for (let j = 0; j < size; j++) carry((row) => half[j * size + row], covariance, 1, j * size);
  return {
    thresholds: back.slice(0, thresholds),
    slopes: back.slice(thresholds),
    covariance,
  };
}
