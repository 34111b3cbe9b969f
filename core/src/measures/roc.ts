import { logistic, tQuantile, z95 } from '../numeric/index.ts';
import { reachOf, variationBetween, type Clusters } from './clusters.ts';
import type { Interval } from './intervals.ts';
import { splitByOutcome, type RankedRisks } from './ranked.ts';

/** Area under the ROC curve, ties counted half. */
export interface Area {
  value: number;
  standardError: number;
  /**
   * 95%, normal theory on the logit scale, which holds where areas are near 1 and cases few (Pepe 2003, The
   * Statistical Evaluation of Medical Tests, section 5.2.4; from memory). Absent where these patients cannot
   * tell it: with one patient on a side the spread within that side is not known, and an area of 0 or 1 shows none.
   */
  interval?: Interval;
}

/**
 * Area with the variance of DeLong, DeLong & Clarke-Pearson (1988), Biometrics 44:837-845, from
 * placement values found by merging two sorted lists: O(n log n). With clusters, placement values are summed
 * by cluster first (Obuchowski 1997, Biometrics 53:567-578; from memory).
 * Undefined when one of the outcomes has no patient.
 *
 * @example risks 0.2, 0.4, 0.3, 0.9 with events 0, 0, 1, 1: 3 of 4 pairs are in order, area 0.75
 */
export function areaUnderCurve(
  risks: ArrayLike<number>,
  events: ArrayLike<number>,
  clusters?: Clusters,
): Area | undefined {
  const { event, none } = splitByOutcome(risks, events);
  if (event.length === 0 || none.length === 0) return undefined;
  if (clusters) return clusteredArea(risks, events, event, none, clusters);
  const eventPlaces = placements(event, none);
  const nonePlaces = placements(none, event);
  const value = mean(eventPlaces);
  return areaOf(value, [
    { variance: sampleVariance(eventPlaces), patients: event.length },
    { variance: sampleVariance(nonePlaces), patients: none.length },
  ]);
}

/**
 * An area with its interval by Student's t, with Satterthwaite's degrees of freedom: with few cases the normal
 * quantile is too short (Brunner & Munzel 2000, Biometrical Journal 42:17-25; from memory).
 *
 * @param sides variance of the placement values of cases and of others, and how many they are
 */
function areaOf(value: number, sides: { variance: number; patients: number }[]): Area {
  const parts = sides.map(({ variance, patients }) => variance / patients);
  const variance = parts.reduce((sum, one) => sum + one, 0);
  const fewer = Math.min(...sides.map(({ patients }) => patients));
  if (fewer < 2 || !(variance > 0)) return areaFrom(value, variance, fewer);
  const below = parts.reduce((sum, part, i) => sum + part ** 2 / (sides[i].patients - 1), 0);
  return areaFrom(value, variance, fewer, tQuantile(0.025, variance ** 2 / below));
}

/** @param fewer patients on the side that has fewer */
function areaFrom(value: number, variance: number, fewer: number, quantile = z95): Area {
  const standardError = Math.sqrt(variance);
  if (fewer < 2 || !(variance > 0) || value <= 0 || value >= 1) return { value, standardError };
  const logit = Math.log(value / (1 - value));
  const reach = (quantile * standardError) / (value * (1 - value));
  return { value, standardError, interval: [logistic(logit - reach), logistic(logit + reach)] };
}

function clusteredArea(
  risks: ArrayLike<number>,
  events: ArrayLike<number>,
  event: Float64Array,
  none: Float64Array,
  clusters: Clusters,
): Area {
  const places = Float64Array.from({ length: risks.length }, (_, row) =>
    events[row] ? shareBelow(none, risks[row]) : 1 - shareBelow(event, risks[row]),
  );
  const ofCases = places.filter((_, row) => events[row] === 1);
  const value = mean(ofCases);
  const adds = places.map((place, row) => (place - value) / (events[row] ? event : none).length);
  const among = (wanted: number) =>
    new Set(clusters.codes.filter((_, row) => events[row] === wanted)).size;
  return areaFrom(
    value,
    variationBetween(adds, clusters),
    Math.min(among(1), among(0)),
    reachOf(clusters),
  );
}

/** Share of ascending values below this one, ties half. */
function shareBelow(values: Float64Array, one: number): number {
  const countWhile = (isCounted: (value: number) => boolean) => {
    let [low, high] = [0, values.length];
    while (low < high) {
      const middle = (low + high) >>> 1;
      if (isCounted(values[middle])) low = middle + 1;
      else high = middle;
    }
    return low;
  };
  const below = countWhile((value) => value < one);
  return (below + countWhile((value) => value <= one)) / 2 / values.length;
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
  return areaOf(eventPlaces.mean, [eventPlaces, nonePlaces]);
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
