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

/** Below this share of a step, halving ends. */
const leastShare = 1e-12;

/**
 * Newton's steps with step halving, until the relative change of the deviance is under 1e-13. A step that
 * makes the deviance larger, infinite or NaN is never taken; `converged` is false where only such steps are left.
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
  const betterAlong = (step: Float64Array) => {
    const most = state.deviance + 1e-10 * (state.deviance + 1);
    for (let share = 1; share > leastShare; share /= 2) {
      const moved = estimates.map((value, j) => value + share * step[j]);
      const reached = at(moved);
      if (reached.deviance <= most && Number.isFinite(reached.deviance))
        return { estimates: moved, state: reached };
    }
    return undefined;
  };
  while (done < iterations && !converged) {
    done++;
    const before = state.deviance;
    const step = solve(factor, state.score);
    const next = betterAlong(step);
    // No share of the step is an improvement: the estimates stay where they are, not converged.
    if (!next) break;
    ({ estimates, state } = next);
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
