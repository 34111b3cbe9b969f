import { takeClusters, type Clusters } from '../clusters.ts';
import { wilsonInterval, type Interval } from '../intervals.ts';
import { shareInterval } from '../table-spread.ts';
import type { RankedRisks } from '../ranked.ts';

/** Patients of about the same risk: what they were told on average, and how many had it. */
export interface CalibrationGroup {
  patients: number;
  /** Mean risk. */
  told: number;
  /** Share of cases, with its 95% interval (Wilson). */
  found: number;
  interval: Interval;
}

/**
 * Groups of about equal size in ascending order of predicted risk, as in the test of Hosmer & Lemeshow (1980).
 * Patients with the same predicted risk always stand in the same group, so there are no more groups than
 * different risks. Fewer than 10 groups where a group would have fewer than 10 patients.
 *
 * @example risks 0.1 (30 patients) and 0.4 (10 patients): two groups, of 30 and of 10
 */
export function calibrationGroups(
  { risks, eventsAbove, times, clusters }: RankedRisks,
  groups = 10,
): CalibrationGroup[] {
  const { length } = risks;
  const count = Math.max(1, Math.min(groups, Math.floor(length / times / fewest)));
  const edges = Array.from({ length: count + 1 }, (_, group) =>
    betweenTies(risks, length - Math.ceil((group * length) / count)),
  );
  return edges.slice(1).flatMap((from, group): CalibrationGroup[] => {
    const to = edges[group];
    if (to <= from) return [];
    let told = 0;
    for (let i = from; i < to; i++) told += risks[i];
    const cases = (eventsAbove[to] - eventsAbove[from]) / times;
    const patients = (to - from) / times;
    return [
      {
        patients,
        told: told / (to - from),
        found: cases / patients,
        interval: clusters
          ? intervalBetween(eventsAbove, from, to, clusters)
          : wilsonInterval(cases, patients)!,
      },
    ];
  });
}

/** Of the share of cases among the predictions from one place to another. */
function intervalBetween(
  eventsAbove: Int32Array,
  from: number,
  to: number,
  clusters: Clusters,
): Interval {
  const places = Int32Array.from({ length: to - from }, (_, i) => from + i);
  const events = Float64Array.from(places, (i) => eventsAbove[i + 1] - eventsAbove[i]);
  return shareInterval(events, takeClusters(clusters, places));
}

/** The nearest place to `at` that divides no patients with the same risk. @param risks descending */
function betweenTies(risks: Float64Array, at: number): number {
  if (at <= 0 || at >= risks.length || risks[at - 1] !== risks[at]) return at;
  let [from, to] = [at, at];
  while (from > 0 && risks[from - 1] === risks[at]) from--;
  while (to < risks.length && risks[to] === risks[at]) to++;
  if (from === 0) return to;
  return to === risks.length || at - from <= to - at ? from : to;
}

const fewest = 10;

/** Below this expected number of cases, or of others, the chi-square approximation is poor (common practice: 3 to 5). */
const fewestExpected = 3;

/** Neighbouring groups joined until each has enough expected cases and others for a chi-square test. */
export function joinedGroups(groups: CalibrationGroup[]): CalibrationGroup[] {
  const joined: CalibrationGroup[] = [];
  let open: CalibrationGroup | undefined;
  for (const group of groups) {
    open = open ? join(open, group) : group;
    if (!isEnough(open)) continue;
    joined.push(open);
    open = undefined;
  }
  if (open) joined.push(join(joined.pop(), open));
  return joined;
}

const isEnough = ({ patients, told }: CalibrationGroup): boolean =>
  patients * Math.min(told, 1 - told) >= fewestExpected;

function join(one: CalibrationGroup | undefined, other: CalibrationGroup): CalibrationGroup {
  if (!one) return other;
  const patients = one.patients + other.patients;
  const mean = (a: number, b: number) => (one.patients * a + other.patients * b) / patients;
  const found = mean(one.found, other.found);
  return {
    patients,
    told: mean(one.told, other.told),
    found,
    interval: wilsonInterval(found * patients, patients)!,
  };
}
