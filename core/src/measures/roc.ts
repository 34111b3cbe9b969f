import { z95 } from '../numeric/index.ts';
import type { Interval } from './intervals.ts';
import { splitByOutcome, type RankedRisks } from './ranked.ts';

/** Area under the ROC curve, ties counted half. */
export interface Area {
  value: number;
  standardError: number;
  /**
   * 95%, normal theory, kept within 0 and 1. Absent where these patients cannot tell it: with one
   * patient on a side the spread within that side is not known, and an area of 0 or 1 shows none.
   */
  interval?: Interval;
}

/**
 * Area with the variance of DeLong, DeLong & Clarke-Pearson (1988), Biometrics 44:837-845, from
 * placement values found by merging two sorted lists: O(n log n).
 * Undefined when one of the outcomes has no patient.
 */
export function areaUnderCurve(
  risks: ArrayLike<number>,
  events: ArrayLike<number>,
): Area | undefined {
  const { event, none } = splitByOutcome(risks, events);
  if (event.length === 0 || none.length === 0) return undefined;
  const eventPlaces = placements(event, none);
  const nonePlaces = placements(none, event);
  const value = mean(eventPlaces);
  const variance =
    sampleVariance(eventPlaces) / event.length + sampleVariance(nonePlaces) / none.length;
  return areaFrom(value, variance, Math.min(event.length, none.length));
}

/** @param fewer patients on the side that has fewer */
function areaFrom(value: number, variance: number, fewer: number): Area {
  const standardError = Math.sqrt(variance);
  if (fewer < 2 || variance === 0) return { value, standardError };
  const reach = z95 * standardError;
  return {
    value,
    standardError,
    interval: [Math.max(0, value - reach), Math.min(1, value + reach)],
  };
}

/**
 * As `areaUnderCurve`, of values that are only counted: `eventCounts[k]` patients with the event and
 * `noneCounts[k]` without it have the k-th of the values, which ascend.
 */
export function areaOfCounts(
  eventCounts: ArrayLike<number>,
  noneCounts: ArrayLike<number>,
): Area | undefined {
  const eventPlaces = placesOf(eventCounts, noneCounts);
  const nonePlaces = placesOf(noneCounts, eventCounts);
  if (!eventPlaces || !nonePlaces) return undefined;
  return areaFrom(
    eventPlaces.mean,
    eventPlaces.variance / eventPlaces.patients + nonePlaces.variance / nonePlaces.patients,
    Math.min(eventPlaces.patients, nonePlaces.patients),
  );
}

/** Patients, mean and variance of the placement values of `mine` among `others`. */
function placesOf(mine: ArrayLike<number>, others: ArrayLike<number>) {
  let [patients, among] = [0, 0];
  for (let k = 0; k < mine.length; k++) {
    patients += mine[k];
    among += others[k];
  }
  if (patients === 0 || among === 0) return undefined;
  const place = new Float64Array(mine.length);
  let below = 0;
  let mean = 0;
  for (let k = 0; k < mine.length; k++) {
    place[k] = (below + others[k] / 2) / among;
    below += others[k];
    mean += mine[k] * place[k];
  }
  mean /= patients;
  let squares = 0;
  for (let k = 0; k < mine.length; k++) squares += mine[k] * (place[k] - mean) ** 2;
  return { patients, mean, variance: patients < 2 ? 0 : squares / (patients - 1) };
}

/** For each of `values` the share of `others` below it, ties half. Both ascending. */
function placements(values: Float64Array, others: Float64Array): Float64Array {
  const places = new Float64Array(values.length);
  let below = 0;
  let notAbove = 0;
  for (let i = 0; i < values.length; i++) {
    while (below < others.length && others[below] < values[i]) below++;
    while (notAbove < others.length && others[notAbove] <= values[i]) notAbove++;
    places[i] = (below + notAbove) / 2 / others.length;
  }
  return places;
}

function mean(values: Float64Array): number {
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}

/** Divisor n - 1; 0 for a single value. */
function sampleVariance(values: Float64Array): number {
  if (values.length < 2) return 0;
  const centre = mean(values);
  return values.reduce((sum, value) => sum + (value - centre) ** 2, 0) / (values.length - 1);
}

export interface RocPoint {
  /** Patients with at least this risk are called in; Infinity for the first point. */
  cutoff: number;
  falseAlarmShare: number;
  sensitivity: number;
}

/** One point a distinct risk, from the strictest cutoff to the loosest, after (0, 0). */
export function rocPoints(ranked: RankedRisks): RocPoint[] {
  const { patients, events, risks, eventsAbove, times } = ranked;
  const points: RocPoint[] = [{ cutoff: Infinity, falseAlarmShare: 0, sensitivity: 0 }];
  for (let i = 1; i <= risks.length; i++) {
    if (i < risks.length && risks[i] === risks[i - 1]) continue;
    points.push({
      cutoff: risks[i - 1],
      falseAlarmShare: (i - eventsAbove[i]) / times / (patients - events),
      sensitivity: eventsAbove[i] / times / events,
    });
  }
  return points;
}
