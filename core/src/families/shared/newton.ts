import { factorise, keepOnly, solve, type Factor } from '../../numeric/index.ts';

/** What a likelihood gives at some estimates. */
export interface State {
  score: Float64Array;
  /** Lower triangle, row-major. */
  information: Float64Array;
  /** -2 log-likelihood; Infinity where the estimates are not allowed. */
  deviance: number;
}

export interface Settled {
  estimates: Float64Array;
  state: State;
  factor: Factor;
  /** The step after the last. */
  step: Float64Array;
  converged: boolean;
  iterations: number;
}

/**
 * Newton's steps with step halving, until the relative change of the deviance is under 1e-13.
 *
 * @param kept parameters that are estimated; the others stay at 0
 */
export function settle(
  start: Float64Array,
  kept: boolean[],
  at: (estimates: Float64Array) => State,
  iterations: number,
  progress?: (share: number) => void,
): Settled {
  const size = start.length;
  let estimates = start;
  let state = at(estimates);
  let factor = keepOnly(factorise(state.information, size, 0), kept);
  let converged = false;
  let done = 0;
  while (done < iterations && !converged) {
    done++;
    const before = state.deviance;
    const step = solve(factor, state.score);
    for (let share = 1; ; share /= 2) {
      const next = estimates.map((value, j) => value + share * step[j]);
      const nextState = at(next);
      if (nextState.deviance <= before + 1e-10 * (before + 1) || share < 1e-4) {
        estimates = next;
        state = nextState;
        break;
      }
    }
    converged = Math.abs(before - state.deviance) <= 1e-13 * (Math.abs(state.deviance) + 0.1);
    factor = keepOnly(factorise(state.information, size, 0), kept);
    progress?.(done / iterations);
  }
  return {
    estimates,
    state,
    factor,
    step: solve(factor, state.score),
    converged,
    iterations: done,
  };
}
