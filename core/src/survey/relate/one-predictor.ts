import { z95 } from '../../numeric/index.ts';
import type { Interval } from '../../measures/index.ts';
import { scaleOfValues } from '../associate/index.ts';

/** What one more SD does to the odds of the event, by itself. */
export interface OddsPerSd {
  ratio: number;
  interval: Interval;
}

const roundsAtMost = 60;

/**
 * Odds ratio per SD (divisor n) from a logistic regression on one number alone, with its Wald
 * interval: maximum likelihood by Newton's method, over the different values rather than the
 * patients. Undefined where there is no such estimate: the outcomes are separated, one of them is
 * missing, or the number does not vary.
 *
 * @param values the different values, ascending
 * @param events, nones patients with and without the event, one entry a value
 */
export function oddsPerSd(
  values: Float64Array,
  events: Float64Array,
  nones: Float64Array,
): OddsPerSd | undefined {
  if (separated(events, nones)) return undefined;
  const scale = standardisedValues(values, events, nones);
  let [intercept, slope] = [0, 0];
  for (let round = 0; round < roundsAtMost; round++) {
    const at = derivatives(scale, events, nones, intercept, slope);
    const stepIntercept =
      (at.second * at.scoreIntercept - at.cross * at.scoreSlope) / at.determinant;
    const stepSlope = (at.first * at.scoreSlope - at.cross * at.scoreIntercept) / at.determinant;
    if (!Number.isFinite(stepIntercept) || !Number.isFinite(stepSlope)) return undefined;
    // Half of the Newton decrement: how much the log-likelihood can still grow.
    if (stepIntercept * at.scoreIntercept + stepSlope * at.scoreSlope < 1e-14) {
      const reach = z95 * Math.sqrt(at.first / at.determinant);
      const log = slope + stepSlope;
      return {
        ratio: Math.exp(log),
        interval: [Math.exp(log - reach), Math.exp(log + reach)],
      };
    }
    // From zero the steps of one predictor overshoot only where probabilities run to their ends.
    const longest = Math.max(Math.abs(stepIntercept), Math.abs(stepSlope), 2) / 2;
    intercept += stepIntercept / longest;
    slope += stepSlope / longest;
  }
  return undefined;
}

/** Whether a cutoff parts the outcomes: no value of one lies beyond the first value of the other. */
function separated(events: ArrayLike<number>, nones: ArrayLike<number>): boolean {
  const ends = (counts: ArrayLike<number>): [first: number, last: number] => {
    const used = Array.from({ length: counts.length }, (_, k) => k).filter((k) => counts[k] > 0);
    return [used[0], used.at(-1)!];
  };
  const [firstEvent, lastEvent] = ends(events);
  const [firstNone, lastNone] = ends(nones);
  return firstEvent === undefined || firstNone === undefined
    ? true
    : lastEvent <= firstNone || lastNone <= firstEvent;
}

function standardisedValues(
  values: Float64Array,
  events: Float64Array,
  nones: Float64Array,
): Float64Array {
  const both = events.map((count, k) => count + nones[k]);
  const { offsets, squares, patients } = scaleOfValues(values, both);
  const sd = Math.sqrt(squares / patients);
  return offsets.map((offset) => offset / sd);
}

/** Score and information of the log-likelihood. */
function derivatives(
  scale: Float64Array,
  events: ArrayLike<number>,
  nones: ArrayLike<number>,
  intercept: number,
  slope: number,
) {
  let [scoreIntercept, scoreSlope, first, cross, second] = [0, 0, 0, 0, 0];
  for (let k = 0; k < scale.length; k++) {
    const patients = events[k] + nones[k];
    if (patients === 0) continue;
    const x = scale[k];
    const risk = 1 / (1 + Math.exp(-intercept - slope * x));
    const left = events[k] - patients * risk;
    const weight = patients * risk * (1 - risk);
    scoreIntercept += left;
    scoreSlope += left * x;
    first += weight;
    cross += weight * x;
    second += weight * x * x;
  }
  const determinant = first * second - cross * cross;
  return { scoreIntercept, scoreSlope, first, cross, second, determinant };
}
