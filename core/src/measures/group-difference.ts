import { randomStream, type RandomStream } from '../numeric/index.ts';
import type { Clusters } from './clusters.ts';
import { costOfCall } from './costs.ts';
import type { SubgroupMeasure, SubgroupTask } from './subgroups.ts';

/** Whether a measure differs between groups by more than chance. */
export interface GroupDifference {
  p: number;
  /** Groups that have the measure. */
  groups: number;
  /** Random assignments of patients to groups that p was counted from. */
  rounds: number;
}

/** Patients that are assigned in all; every test has at least `fewest` rounds. */
const mostAssigned = 8_000_000;
const fewest = 400;

/**
 * Permutation test of a measure between groups: patients are assigned to the groups at random, and p is the
 * share of assignments in which the groups differ at least as much (Good 2005, Permutation, Parametric and
 * Bootstrap Tests of Hypotheses, 3rd ed.; from memory). The statistic is the sum of squared distances from the
 * common value, weighted by variances with a floor, so that a group without variation counts too. Areas: cases
 * and others are assigned among themselves. With clusters, whole clusters are assigned.
 *
 * Undefined where fewer than two groups have the measure, and where rows of one cluster stand in several groups.
 *
 * @example areas of 1.00 and 0.76 in two groups of 60 patients: p is about 0.001
 */
export function groupDifference(
  groups: { places: number[] }[],
  measure: SubgroupMeasure,
  task: SubgroupTask,
  { seed = 1, mostRounds = 4000 } = {},
): GroupDifference | undefined {
  const labels = new Int32Array(task.scores.length).fill(-1);
  groups.forEach(({ places }, group) => places.forEach((place) => (labels[place] = group)));
  const rows = rowsOf(measure, task).filter((row) => labels[row] >= 0);
  const own = rows.map((row) => labels[row]);
  const statistic =
    measure === 'area'
      ? areaStatistic(rows, task, groups.length)
      : meanStatistic(rows, valuesOf[measure](task), groups.length);
  const { value: observed, known } = statistic(own);
  if (known < 2) return undefined;
  const units = unitsOf(rows, own, measure, task);
  if (!units) return undefined;
  const rounds = Math.min(mostRounds, Math.max(fewest, Math.floor(mostAssigned / rows.length)));
  const draw = randomStream(seed, 'difference between groups');
  const assigned = own.slice();
  let atLeast = 0;
  for (let round = 0; round < rounds; round++) {
    for (const { members, labels: theirs } of units) assign(members, theirs, assigned, draw);
    if (statistic(assigned).value >= observed * (1 - 1e-9)) atLeast++;
  }
  return { p: (atLeast + 1) / (rounds + 1), groups: known, rounds };
}

type Valued = Exclude<SubgroupMeasure, 'area'>;

/** Rows that a measure is of. */
function rowsOf(measure: SubgroupMeasure, { scores, events, cutoff }: SubgroupTask): Int32Array {
  const isIn: Partial<Record<SubgroupMeasure, (row: number) => boolean>> = {
    sensitivity: (row) => events[row] === 1,
    specificity: (row) => events[row] === 0,
    positivePredictiveValue: (row) => scores[row] >= cutoff,
    negativePredictiveValue: (row) => scores[row] < cutoff,
  };
  const counts = isIn[measure] ?? (() => true);
  return Int32Array.from({ length: scores.length }, (_, row) => row).filter(counts);
}

/** What each of those rows adds to the mean. */
const valuesOf: Record<Valued, (task: SubgroupTask) => (row: number) => number> = {
  sensitivity: isCalled,
  specificity: (task) => (row) => 1 - isCalled(task)(row),
  positivePredictiveValue:
    ({ events }) =>
    (row) =>
      events[row],
  negativePredictiveValue:
    ({ events }) =>
    (row) =>
      1 - events[row],
  accuracy: (task) => (row) => Number(isCalled(task)(row) === task.events[row]),
  cost:
    ({ scores, events, cutoff, costs }) =>
    (row) =>
      costOfCall(scores[row], events[row], cutoff, costs),
  brier:
    ({ scores, events }) =>
    (row) =>
      (scores[row] - events[row]) ** 2,
};

function isCalled({ scores, cutoff }: SubgroupTask) {
  return (row: number): number => Number(scores[row] >= cutoff);
}

type Statistic = (labels: Int32Array) => { value: number; known: number };

/** Squared distances of group means from the common mean, over variances; each group has one more patient of the common variance. */
function meanStatistic(
  rows: Int32Array,
  valueOf: (row: number) => number,
  groups: number,
): Statistic {
  const values = Float64Array.from(rows, valueOf);
  const mean = values.reduce((sum, one) => sum + one, 0) / values.length;
  const common = values.reduce((sum, one) => sum + (one - mean) ** 2, 0) / values.length;
  return (labels) => {
    const counts = new Float64Array(groups);
    const sums = new Float64Array(groups);
    const squares = new Float64Array(groups);
    for (let i = 0; i < labels.length; i++) {
      const away = values[i] - mean;
      counts[labels[i]]++;
      sums[labels[i]] += away;
      squares[labels[i]] += away * away;
    }
    const found = Array.from(counts).flatMap((count, group) => {
      if (count === 0) return [];
      const own = sums[group] / count;
      const variance = (squares[group] - count * own * own + common) / count / count;
      return [{ value: own, variance }];
    });
    return combined(found);
  };
}

/** The same of areas, with the variance of Hanley & McNeil (1982), Radiology 143:29-36, of an area drawn in a little. */
function areaStatistic(
  rows: Int32Array,
  { scores, events }: SubgroupTask,
  groups: number,
): Statistic {
  const order = Int32Array.from(rows.keys()).sort((a, b) => scores[rows[a]] - scores[rows[b]]);
  return (labels) => {
    const cases = new Float64Array(groups);
    const others = new Float64Array(groups);
    const pairs = new Float64Array(groups);
    for (let i = 0; i < order.length;) {
      let end = i;
      while (end < order.length && scores[rows[order[end]]] === scores[rows[order[i]]]) end++;
      // Ties count half: those of the others that stand with a case.
      for (let k = i; k < end; k++) if (!events[rows[order[k]]]) others[labels[order[k]]] += 0.5;
      for (let k = i; k < end; k++)
        if (events[rows[order[k]]]) {
          const group = labels[order[k]];
          cases[group]++;
          pairs[group] += others[group];
        }
      for (let k = i; k < end; k++) if (!events[rows[order[k]]]) others[labels[order[k]]] += 0.5;
      i = end;
    }
    const found = Array.from(cases).flatMap((m, group) => {
      const n = others[group];
      if (m === 0 || n === 0) return [];
      const value = pairs[group] / m / n;
      const drawn = (pairs[group] + 0.5) / (m * n + 1);
      return [{ value, variance: hanleyMcNeil(drawn, m, n) }];
    });
    return combined(found);
  };
}

function hanleyMcNeil(area: number, cases: number, others: number): number {
  const [q1, q2] = [area / (2 - area), (2 * area ** 2) / (1 + area)];
  const spread =
    area * (1 - area) + (cases - 1) * (q1 - area ** 2) + (others - 1) * (q2 - area ** 2);
  return spread / cases / others;
}

function combined(found: { value: number; variance: number }[]): { value: number; known: number } {
  const known = found.filter(({ variance }) => variance > 0);
  const weights = known.reduce((sum, { variance }) => sum + 1 / variance, 0);
  const mean = known.reduce((sum, { value, variance }) => sum + value / variance, 0) / weights;
  return {
    value: known.reduce((sum, { value, variance }) => sum + (value - mean) ** 2 / variance, 0),
    known: known.length,
  };
}

/** Rows that are assigned together, and the groups that they are dealt out of. */
interface Units {
  /** Places among the rows, of each unit. */
  members: number[][];
  labels: Int32Array;
}

/** Undefined where rows of one cluster stand in several groups. */
function unitsOf(
  rows: Int32Array,
  labels: Int32Array,
  measure: SubgroupMeasure,
  { events, clusters }: SubgroupTask,
): Units[] | undefined {
  if (clusters) return clusteredUnits(rows, labels, clusters);
  const sides = measure === 'area' ? [1, 0] : [undefined];
  return sides.map((side) => {
    const places = [...rows.keys()].filter((i) => side === undefined || events[rows[i]] === side);
    return {
      members: places.map((i) => [i]),
      labels: Int32Array.from(places, (i) => labels[i]),
    };
  });
}

function clusteredUnits(
  rows: Int32Array,
  labels: Int32Array,
  { codes }: Clusters,
): Units[] | undefined {
  const members = new Map<number, number[]>();
  rows.forEach((row, i) => {
    const own = members.get(codes[row]);
    if (own) own.push(i);
    else members.set(codes[row], [i]);
  });
  const units = [...members.values()];
  if (units.some((own) => own.some((i) => labels[i] !== labels[own[0]]))) return undefined;
  return [{ members: units, labels: Int32Array.from(units, ([first]) => labels[first]) }];
}

/** Deals the labels out to the units at random (Fisher & Yates). */
function assign(members: number[][], labels: Int32Array, to: Int32Array, draw: RandomStream): void {
  for (let i = labels.length - 1; i > 0; i--) {
    const j = Math.floor(draw.uniform() * (i + 1));
    [labels[i], labels[j]] = [labels[j], labels[i]];
  }
  members.forEach((own, unit) => {
    for (const place of own) to[place] = labels[unit];
  });
}
