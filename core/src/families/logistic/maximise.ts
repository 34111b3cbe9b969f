import { factorise, invert, keepOnly, solve } from '../../numeric/index.ts';
import type { Inputs } from '../../preparation/index.ts';
import type { LikelihoodSummary } from '../facets.ts';
import { separatingDirection, type Direction } from './separating-direction.ts';
import {
  along,
  centre,
  type Centred,
  isRestless,
  largeCohort,
  newBlock,
  sampleOf,
  uncentre,
} from '../shared/index.ts';
import { scoreAndInformation } from './information.ts';

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
  summary: LikelihoodSummary & { events: number };
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
  const restless = isRestless(along(centred, solve(factor, state.score)));
  const { patients } = totals;
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
      bic: state.deviance + Math.log(patients) * parameters,
      iterations: done,
    },
  };
}

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
  const sample = sampleOf(inputs, events);
  const sampled = maximiseLikelihood(sample.inputs, sample.outcome, { iterations: 25 });
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
