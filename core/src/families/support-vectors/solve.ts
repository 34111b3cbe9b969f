import { pullRoom, type PullRoom } from '../../numeric/index.ts';
import type { Alike } from './likeness.ts';

/** A quadratic task: least of a'Qa/2 + p'a, with 0 <= a <= most and s'a = 0, where Q = s s' likeness. */
export interface Task {
  alike: Alike;
  /** Patient of each variable, best one after the other, its side (1 or -1), its p, and the most it may be. */
  patients: Int32Array;
  sides: Int8Array;
  linear: Float64Array;
  most: Float64Array;
}

export interface Solution {
  values: Float64Array;
  /** What is added to sums of side × value × likeness. */
  offset: number;
  /** Of the task; that of the margin is its negative. */
  objective: number;
  steps: number;
  settled: boolean;
}

/** How far off the conditions of the optimum may be, where variables are few, and where they are many. */
const exactly = 1e-11;
const roughly = 1e-3;
/** From about so many variables on. */
const many = 2500;

/**
 * Two variables at a time: the one that lies farthest off, and the one with which the objective falls most
 * (Platt 1999; Fan, Chen & Lin 2005, Journal of Machine Learning Research 6:1889-1918).
 */
export function solve(task: Task, progress?: (share: number) => void): Solution {
  const { alike, patients, sides, linear, most } = task;
  const count = patients.length;
  const values = new Float64Array(count);
  // What a variable pulls: minus side times slope. At the optimum none that may rise pulls more than one
  // that may fall.
  const room = pullRoom(count);
  const { pulls, own, other, selves, rises, falls } = room;
  for (let t = 0; t < count; t++) {
    pulls[t] = -sides[t] * linear[t];
    selves[t] = alike.own[patients[t]];
    free(t);
  }
  const runs = runsOf(patients);
  const tolerance = count < many ? exactly : roughly;
  const stepsAtMost = Math.max(2_000_000, 200 * count);
  let steps = 0;
  let settled = false;
  let first = 0;
  let way = 0;
  for (; steps < stepsAtMost; steps++) {
    const { above, below, place: i } = room.farthest(way);
    if (steps === 0) first = above - below;
    if (!(above - below > tolerance)) {
      settled = true;
      break;
    }
    if (progress && steps % 1024 === 0)
      progress(
        1 - Math.log((above - below) / tolerance) / Math.log(Math.max(2, first / tolerance)),
      );
    fetch(own, patients[i]);
    const j = room.partner(above, selves[i], leastBend);
    fetch(other, patients[j]);
    const bend = Math.max(leastBend, selves[i] + selves[j] - 2 * own[j]);
    // As far as both may go.
    const upTo = sides[i] > 0 ? most[i] - values[i] : values[i];
    const downTo = sides[j] > 0 ? values[j] : most[j] - values[j];
    way = Math.min((above - pulls[j]) / bend, upTo, downTo);
    values[i] = bounded(values[i] + sides[i] * way, most[i]);
    values[j] = bounded(values[j] - sides[j] * way, most[j]);
    free(i);
    free(j);
  }
  let objective = 0;
  for (let t = 0; t < count; t++) objective += (values[t] * (linear[t] - sides[t] * pulls[t])) / 2;
  return { values, offset: offsetOf(room), objective, steps, settled };

  function fetch(to: Float64Array, patient: number): void {
    const row = alike.row(patient);
    for (const { from, length, at } of runs) to.set(row.subarray(from, from + length), at);
  }

  /** Says which way a variable may go. */
  function free(t: number): void {
    const [isNone, isMost] = [values[t] === 0, values[t] === most[t]];
    rises[t] = (sides[t] > 0 ? isMost : isNone) ? -Infinity : 0;
    falls[t] = (sides[t] > 0 ? isNone : isMost) ? Infinity : 0;
  }
}

/** Stretches in which one patient follows the other: they are copied at once. */
function runsOf(patients: Int32Array): { from: number; length: number; at: number }[] {
  const runs: { from: number; length: number; at: number }[] = [];
  patients.forEach((patient, at) => {
    const last = runs.at(-1);
    if (last && patient === last.from + last.length) last.length++;
    else runs.push({ from: patient, length: 1, at });
  });
  return runs;
}

/** Twins have none. */
const leastBend = 1e-12;

/** At an end exactly, where it is nearly there. */
const bounded = (value: number, most: number): number =>
  value < 1e-12 * most ? 0 : value > most * (1 - 1e-12) ? most : value;

/** By those that lie on the margin, which may do both; between both ends where there are none. */
function offsetOf({ pulls, rises, falls }: PullRoom): number {
  let [sum, free, low, high] = [0, 0, -Infinity, Infinity];
  for (let t = 0; t < pulls.length; t++) {
    if (rises[t] === 0 && falls[t] === 0) {
      sum += pulls[t];
      free++;
    }
    if (rises[t] === 0) low = Math.max(low, pulls[t]);
    if (falls[t] === 0) high = Math.min(high, pulls[t]);
  }
  return free > 0 ? sum / free : (low + high) / 2;
}
