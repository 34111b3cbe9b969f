import { chiSquareUpperTail, logistic, z95 } from '../../numeric/index.ts';
import type { Inputs } from '../../preparation/index.ts';
import { centre, countCodes, devianceOfShares, uncentre, type Centred } from '../shared/index.ts';
import type { Maximum, MaximiseOptions } from './maximise.ts';
import { penalisedMaximum, rowsOf, type Penalised, type Rows } from './penalised.ts';

export interface ReduceOptions extends MaximiseOptions {
  /** Whether the constant is then set so that the mean risk is the share of events. */
  refitConstant: boolean;
}

/** Bias-reduced estimates, and by term what the profile of the penalised likelihood says of each. */
export interface Reduced extends Maximum {
  profile(): Profile[];
}

/** Absent where it was not found. */
export interface Profile {
  interval?: [number, number];
  p?: number;
}

/**
 * Logistic regression with bias-reduced estimates; see `penalisedMaximum`. Risks of the penalised fit lie
 * on the whole nearer to one half than the share of events does; a constant that is set once more, the
 * slopes held, brings them back (Puhr, Heinze, Nold, Lusa & Geroldinger 2017, Statistics in Medicine
 * 36:2302-2317).
 *
 * @param events 1 or 0 a patient
 */
export function reduceBias(
  inputs: Inputs,
  events: ArrayLike<number>,
  { iterations, weights, progress, refitConstant }: ReduceOptions,
): Reduced {
  const centred = centre(inputs, weights);
  const rows = rowsOf(centred, events, weights);
  const counts = countCodes(events, 2, weights);
  const patients = counts[0] + counts[1];
  const start = new Float64Array(rows.size);
  start[0] = Math.log((counts[1] + 0.5) / (counts[0] + 0.5));
  const found = penalisedMaximum(rows, start, iterations, undefined, progress);
  const { kept, converged, inverse, logLikelihood, value } = found;
  const estimates = found.estimates.slice();
  if (refitConstant) estimates[0] += constantMove(rows, estimates);
  const parameters = kept.filter(Boolean).length;
  const residualDeviance = -2 * logLikelihood;
  return {
    ...uncentre(centred, estimates, inverse),
    kept,
    converged,
    restless: false,
    summary: {
      patients,
      events: counts[1],
      logLikelihood,
      penalised: value,
      nullDeviance: devianceOfShares(counts),
      nullDegrees: patients - 1,
      residualDeviance,
      residualDegrees: patients - parameters,
      aic: residualDeviance + 2 * parameters,
      bic: residualDeviance + Math.log(patients) * parameters,
      iterations: found.iterations,
    },
    profile: () =>
      kept.map((isKept, term) => (isKept && term > 0 ? profileOf(rows, found, term, centred) : {})),
  };
}

/** Patients × terms³ up to which profiles are followed: some seconds. */
const mostProfiled = 3e7;

/** Whether there is time to follow profiles; where there is not, Wald's figures say the same. */
export const canProfile = (patients: number, terms: number): boolean =>
  patients * terms ** 3 <= mostProfiled;

/** How far a slope can go before the profile falls by what chance would make it fall in 19 of 20. */
function profileOf(rows: Rows, best: Penalised, term: number, { scales }: Centred): Profile {
  const estimate = best.estimates[term];
  const error = Math.sqrt(best.inverse[term * rows.size + term]);
  const fallAt = (at: number, from: Float64Array) => {
    const held = penalisedMaximum(rows, from, 50, { term, at });
    return { fall: Math.max(0, 2 * (best.value - held.value)), held };
  };
  const ends = [-1, 1].map((side) => {
    let from = best.estimates;
    // The root of the fall is nearly a straight line from the estimate on.
    let [near, nearRoot] = [0, 0];
    let far = z95;
    for (let step = 0; step < 40; step++) {
      const { fall, held } = fallAt(estimate + side * far * error, from);
      const root = Math.sqrt(fall);
      if (Math.abs(root - z95) < 1e-7) return estimate + side * far * error;
      from = held.estimates;
      const slope = (root - nearRoot) / (far - near);
      [near, nearRoot] = [far, root];
      far = slope > 0 ? far + Math.min(Math.max((z95 - root) / slope, -far / 2), 2 * far) : 2 * far;
    }
    return NaN;
  });
  const scale = scales[term - 1];
  const { fall } = fallAt(0, best.estimates);
  return {
    ...(ends.every(Number.isFinite) && { interval: [ends[0] / scale, ends[1] / scale] }),
    p: chiSquareUpperTail(fall, 1),
  };
}

/** What is to be added to every patient's log-odds for the mean risk to be the share of events. */
function constantMove({ x, size, events, weights }: Rows, estimates: Float64Array): number {
  const linear = Float64Array.from({ length: x.length / size }, (_, row) =>
    estimates.reduce((sum, slope, j) => sum + slope * x[row * size + j], 0),
  );
  let move = 0;
  for (let step = 0; step < 50; step++) {
    let [score, spread] = [0, 0];
    for (let row = 0; row < linear.length; row++) {
      const risk = logistic(linear[row] + move);
      const weight = weights ? weights[row] : 1;
      score += weight * (events[row] - risk);
      spread += weight * risk * (1 - risk);
    }
    // With no events at all there is no such constant: it stays.
    if (!(spread > 1e-12)) return 0;
    const by = Math.max(-2, Math.min(2, score / spread));
    move += by;
    if (Math.abs(by) < 1e-12) return move;
  }
  return 0;
}
