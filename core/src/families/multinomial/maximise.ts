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
  uncentre,
} from '../shared/index.ts';
import { scoreAndInformation, type Compared } from './information.ts';
import { separatingDirection, type Direction } from './separating-direction.ts';

/** The estimates of one level against the reference level, intercept first. */
export interface Equation {
  /** Code of the level. */
  code: number;
  estimates: Float64Array;
  /** Inverse Fisher information of this equation's estimates, row-major. */
  covariance: Float64Array;
}

export interface MultinomialMaximum {
  /** Code of the level that the others are compared with. */
  reference: number;
  equations: Equation[];
  /** Inverse Fisher information of the estimates of all equations, equation after equation, row-major. */
  covariance: Float64Array;
  kept: boolean[];
  converged: boolean;
  restless: boolean;
  separation?: Direction;
  summary: LikelihoodSummary;
}

export interface MultinomialOptions {
  /** Taken where some patient has it; else the commonest level. */
  reference: number;
  iterations: number;
  weights?: Float64Array;
  progress?: (share: number) => void;
}

/**
 * Baseline-category logits by Newton's steps. Levels that no patient has get no equation.
 *
 * @param codes level of each patient, from 0
 */
export function maximiseMultinomial(
  inputs: Inputs,
  codes: ArrayLike<number>,
  levels: number,
  { reference: wanted, iterations, weights, progress }: MultinomialOptions,
): MultinomialMaximum {
  const counts = countCodes(codes, levels, weights);
  const reference = counts[wanted] > 0 ? wanted : counts.indexOf(Math.max(...counts));
  const compared = [...counts.keys()].filter((code) => counts[code] > 0 && code !== reference);
  const centred = centre(inputs, weights);
  const size = inputs.columns.length + 1;
  const fit: Compared = {
    inputs: centred,
    equations: equationsOf(codes, compared, levels),
    count: compared.length,
    weights,
  };
  const kept = keptInputs(centred);
  const block = newBlock(size);
  const start = startingPoint(inputs, codes, levels, {
    reference,
    weights,
    counts,
    compared,
    centred,
  });
  const settled = settle(
    start,
    compared.flatMap(() => [true, ...kept]),
    (estimates) => scoreAndInformation(fit, estimates, block),
    iterations,
    progress,
  );
  const { estimates, step } = settled;
  const part = (all: Float64Array, c: number) => all.subarray(c * size, (c + 1) * size);
  const restless = compared.some((_, c) => isRestless(along(centred, part(step, c))));
  const inverse = invert(settled.factor);
  const width = compared.length * size;
  const covariance = uncentreAll(centred, inverse, compared.length);
  return {
    reference,
    equations: compared.map((code, c): Equation => {
      const own = blockOf(inverse, width, size, c, c);
      return { code, ...uncentre(centred, part(estimates, c), own) };
    }),
    covariance,
    kept,
    converged: settled.converged,
    restless,
    ...(restless && { separation: separatingDirection(fit, estimates) }),
    summary: likelihoodSummary({
      patients: counts.reduce((sum, count) => sum + count, 0),
      levels: compared.length + 1,
      deviance: settled.state.deviance,
      nullDeviance: devianceOfShares(counts),
      parameters: compared.length * (1 + kept.filter(Boolean).length),
      nullParameters: compared.length,
      iterations: settled.iterations,
    }),
  };
}

/** The block of two equations in a matrix over all of them. */
function blockOf(whole: Float64Array, width: number, size: number, c: number, d: number) {
  const own = new Float64Array(size * size);
  for (let j = 0; j < size; j++)
    for (let k = 0; k < size; k++) own[j * size + k] = whole[(c * size + j) * width + d * size + k];
  return own;
}

/** Covariance of all equations on the scale of the inputs as given: T V Tᵗ for each pair of equations. */
function uncentreAll({ means, scales }: Centred, inverse: Float64Array, count: number) {
  const size = means.length + 1;
  const width = count * size;
  const back = inverse.slice();
  // Rows first, then columns: divide by the scale, then take the means off the intercept.
  for (let c = 0; c < count; c++)
    for (let k = 0; k < width; k++)
      for (let j = 1; j < size; j++) {
        const at = (c * size + j) * width + k;
        back[at] /= scales[j - 1];
        back[c * size * width + k] -= means[j - 1] * back[at];
      }
  for (let j = 0; j < width; j++)
    for (let c = 0; c < count; c++)
      for (let k = 1; k < size; k++) {
        const at = j * width + c * size + k;
        back[at] /= scales[k - 1];
        back[j * width + c * size] -= means[k - 1] * back[at];
      }
  return back;
}

function equationsOf(codes: ArrayLike<number>, compared: number[], levels: number): Int32Array {
  const places = Int32Array.from({ length: levels }, (_, code) => compared.indexOf(code));
  const equations = new Int32Array(codes.length);
  for (let i = 0; i < equations.length; i++) equations[i] = places[codes[i]];
  return equations;
}

/** The shares alone, or for a large cohort the estimate of a sample. */
function startingPoint(
  inputs: Inputs,
  codes: ArrayLike<number>,
  levels: number,
  known: {
    reference: number;
    weights?: Float64Array;
    counts: Float64Array;
    compared: number[];
    centred: Centred;
  },
): Float64Array {
  const { reference, weights, counts, compared, centred } = known;
  const size = inputs.columns.length + 1;
  const start = new Float64Array(compared.length * size);
  compared.forEach((code, c) => (start[c * size] = Math.log(counts[code] / counts[reference])));
  if (weights || inputs.rowCount < largeCohort) return start;
  const sample = sampleOf(inputs, codes);
  const sampled = maximiseMultinomial(sample.inputs, sample.outcome, levels, {
    reference,
    iterations: 25,
  });
  const usable =
    sampled.converged &&
    !sampled.restless &&
    sampled.reference === reference &&
    sampled.equations.length === compared.length;
  if (!usable) return start;
  sampled.equations.forEach(({ estimates }, c) => {
    start[c * size] = estimates[0];
    centred.means.forEach((mean, j) => {
      start[c * size] += estimates[j + 1] * mean;
      start[c * size + j + 1] = estimates[j + 1] * centred.scales[j];
    });
  });
  return start;
}
