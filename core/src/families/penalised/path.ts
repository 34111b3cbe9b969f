import type { Outcome } from '../../outcome/index.ts';
import type { Inputs } from '../../inputs/index.ts';
import { designBlocks, type DesignBlocks } from '../../numeric/index.ts';
import { pathLoss, type PathLoss } from './losses.ts';
import { descend } from './quadratic.ts';

export interface PathTask {
  inputs: Inputs;
  outcome: Outcome;
  /** All 1 where absent. */
  weights?: Float64Array;
  /** Share of the penalty that is on lengths (lasso), the rest on squares (ridge). */
  mix: number;
  /** By input, the group that it goes in and out with; each its own where absent. */
  groups?: Int32Array;
  /** By input 1 or -1 where its coefficient may not be below or above 0. */
  directions?: Int8Array;
}

/** Coefficients at one strength: of each block the constant, then those of inputs as given. */
export type PathPoint = Float64Array[];

/** What the loss is like where no input has a coefficient yet. */
export interface Start {
  /** Largest derivative of the mean loss in the coefficients of a group: the strength of a lasso that holds it at 0. */
  pull: number;
  /** Largest second derivative along any direction of coefficients: the largest squared singular value, weighted. */
  largestCurvature: () => number;
}

export function startOf(task: PathTask): Start {
  const work = begin(task);
  return { pull: largestPull(work), largestCurvature: () => largestCurvature(work) };
}

const largestPull = ({ pulls, groups }: Work): number =>
  pulls.reduce(
    (most, pull) => groups.reduce((most, group) => Math.max(most, lengthOf(group, pull)), most),
    0,
  );

/** Power iteration: within a few per cent, which is enough for the end of a path. */
const powerSteps = 30;

function largestCurvature({ loss, design, shares }: Work): number {
  const { size } = design;
  const bend = new Float64Array(shares.length);
  const linear = new Float64Array(shares.length);
  const largestOf = (block: number) => {
    loss.bend(block, block, bend);
    let along = Float64Array.from({ length: size }, (_, place) =>
      place === 0 ? 0 : 1 + 1 / (1 + place),
    );
    let curvature = 0;
    for (let step = 0; step < powerSteps; step++) {
      const length = Math.sqrt(dot(along, along));
      if (!(length > 0)) return 0;
      along = along.map((value) => value / length);
      design.combine(along, linear);
      for (let i = 0; i < linear.length; i++) linear[i] *= bend[i];
      const next = design.project(linear).slice();
      next[0] = 0;
      curvature = dot(next, along);
      along = next;
    }
    return curvature;
  };
  return Math.max(...Array.from({ length: loss.blocks }, (_, block) => largestOf(block)));
}

/**
 * Coefficients that make mean loss + strength × (mix × sum of |b| + (1 - mix) / 2 × sum of b²) least, b per
 * SD (divisor n) of the inputs (as they are where the analyst rescaled them), the constants free, for each strength from strong to weak: each begins where
 * the one before ended, on the inputs that the sequential strong rule does not leave out (Tibshirani et al.
 * 2012, JRSS B 74:245-266), and what was left out is looked at afterwards. Several levels have coefficients
 * each, none of them the reference.
 *
 * @param strengths descending; at the last one coefficients are exact, before it as far as one can see
 * @param isBrief where the loss hardly falls any more, or nearly all is explained, what follows is passed
 *   over and says the same as the one before
 */
export function followPath(
  task: PathTask,
  strengths: number[],
  isBrief: boolean,
  progress?: (share: number) => void,
): PathPoint[] {
  const work = begin(task);
  const points: PathPoint[] = [];
  let isOver = false;
  const curvature = meanCurvature(work);
  let before = task.mix > 0 ? largestPull(work) / task.mix : 0;
  for (let i = 0; i < strengths.length; i++) {
    const isLast = i === strengths.length - 1;
    const reached = work.value;
    if (!isOver) settleAt(work, task, strengths[i], before, isLast ? exact : seen);
    const fallen = reached - work.value;
    // A strong ridge lets go of the coefficients slowly: a small fall there is no end.
    const isRidgeWeak = strengths[i] * (1 - task.mix) < weakRidge * curvature;
    isOver ||=
      isBrief &&
      (work.value < explained * work.nothing ||
        (i >= 5 && isRidgeWeak && fallen < flat * work.nothing && work.value < reached));
    before = strengths[i];
    points.push(pointOf(work));
    progress?.((i + 1) / strengths.length);
  }
  return points;
}

// Shares of the loss without inputs: below the one nothing is left to explain, below the other a step
// explains nothing more (common practice).
const explained = 1e-3;
const flat = 1e-5;
/** Share of the mean curvature below which a ridge hardly shrinks a coefficient any more. */
const weakRidge = 0.01;

// Steps end when they change no coefficient by more, per SD of its input and of the outcome.
const exact = 1e-9;
const seen = 1e-5;

interface Work {
  loss: PathLoss;
  /** Inputs of mean 0 and SD 1; those that do not vary are all 0. */
  design: DesignBlocks;
  means: number[];
  scales: number[];
  /** Weights of patients, of which the sum is 1. */
  shares: Float64Array;
  /** Places of coefficients, the constant's 0. */
  groups: Int32Array[];
  /** Of each block. */
  values: Float64Array[];
  linear: Float64Array[];
  /** Minus the derivative of the loss in each coefficient, where the block was looked at last. */
  pulls: Float64Array[];
  slopes: Float64Array[];
  /** Mean loss now, and without any input. */
  value: number;
  nothing: number;
  /** Groups that are descended on, and second derivatives of their coefficients, block by block. */
  chosen: Uint8Array;
  places: Int32Array;
  second?: Float64Array;
}

function begin({ inputs, outcome, weights, groups }: PathTask): Work {
  const { rowCount, columns } = inputs;
  const shares = sharesOf(rowCount, weights);
  const { means, scales, factors } = momentsOf(columns, shares, inputs.scaled);
  const loss = pathLoss(outcome, shares);
  const work: Work = {
    loss,
    design: designBlocks({ rowCount, columns, means, factors }),
    means,
    scales,
    shares,
    groups: groupsOf(columns.length, groups),
    values: Array.from(loss.start, (start) => {
      const values = new Float64Array(columns.length + 1);
      values[0] = start;
      return values;
    }),
    linear: Array.from(loss.start, (start) => new Float64Array(rowCount).fill(start)),
    pulls: [],
    slopes: Array.from(loss.start, () => new Float64Array(rowCount)),
    value: 0,
    nothing: 0,
    chosen: new Uint8Array(0),
    places: Int32Array.of(0),
  };
  work.chosen = new Uint8Array(work.groups.length);
  look(work);
  work.nothing = work.value;
  return work;
}

/** Second derivative of the mean loss in the coefficient of an input that is uncorrelated with the others. */
function meanCurvature({ loss, shares }: Work): number {
  const bend = new Float64Array(shares.length);
  const sums = Array.from({ length: loss.blocks }, (_, block) => {
    loss.bend(block, block, bend);
    return bend.reduce((sum, one) => sum + one, 0);
  });
  return Math.max(...sums);
}

/** @param scaled inputs that are penalised on the scale that they have */
function momentsOf(columns: Float64Array[], shares: Float64Array, scaled?: boolean[]) {
  const means = columns.map((column) => dot(column, shares));
  const scales = columns.map((column, j) => {
    let variance = 0;
    for (let i = 0; i < column.length; i++) variance += shares[i] * (column[i] - means[j]) ** 2;
    const sd = Math.sqrt(variance);
    if (!(sd > 1e-12 * Math.abs(means[j]))) return 0;
    return scaled?.[j] ? 1 : sd;
  });
  return { means, scales, factors: scales.map((scale) => (scale > 0 ? 1 / scale : 0)) };
}

/** Loss where the coefficients are now, and what pulls each of them. */
function look(work: Work): void {
  const { loss, design, linear, slopes } = work;
  work.value = loss.look(linear, slopes);
  work.pulls = slopes.map((slope) => design.project(slope));
}

function settleAt(
  work: Work,
  task: PathTask,
  strength: number,
  before: number,
  exactness: number,
): void {
  const { groups, chosen, loss } = work;
  const lasso = strength * task.mix;
  const isPulled = (g: number, by: number) =>
    work.pulls.some((pull) => lengthOf(groups[g], pull) >= by);
  choose(work, (g) => isPulled(g, task.mix * (2 * strength - before)));
  const least = exactness * loss.unit;
  for (;;) {
    if (loss.isSquared) descendAtOnce(work, task, strength, least);
    else descendByRounds(work, task, strength, least);
    const missed = (g: number) => chosen[g] === 0 && isPulled(g, lasso * (1 + 1e-9) + 1e-300);
    if (!groups.some((_, g) => missed(g))) return;
    choose(work, missed);
  }
}

/** Takes more groups in; second derivatives are of those that are in. */
function choose(work: Work, isIn: (group: number) => boolean): void {
  const { groups, chosen } = work;
  const more = groups.flatMap((_, g) => (chosen[g] === 0 && isIn(g) ? [g] : []));
  if (more.length === 0) return;
  for (const g of more) chosen[g] = 1;
  work.places = Int32Array.from([
    0,
    ...groups.flatMap((group, g) => (chosen[g] ? [...group] : [])),
  ]);
  if (!work.loss.isSquared) work.second = undefined;
}

/** Squared losses bend the same everywhere: all is in the products of the inputs, taken once. */
function descendAtOnce(work: Work, task: PathTask, strength: number, least: number): void {
  const { design, shares, groups, chosen, values, pulls } = work;
  const { size } = design;
  const everything = () => Int32Array.from({ length: size }, (_, place) => place);
  const bend = (work.second ??= design.products(shares, everything()));
  const before = values[0].slice();
  const pull = pulls[0].slice();
  const signs = task.directions && Int8Array.from([0, ...task.directions]);
  const some = groups.filter((_, g) => chosen[g]);
  const own = { values: values[0], pull: pulls[0], bend, size, free: [0], groups: some, signs };
  descend(own, strength * task.mix, strength * (1 - task.mix), least);
  // A quadratic falls by the mean of both pulls along the way.
  for (let j = 0; j < size; j++)
    work.value -= ((pull[j] + pulls[0][j]) / 2) * (values[0][j] - before[j]);
}

/** Rounds with the same second derivatives, if each moves much less than the one before, else one. */
const patience = 6;
const mostRounds = 500;

function descendByRounds(work: Work, task: PathTask, strength: number, least: number): void {
  let age = 0;
  let before = Infinity;
  for (let round = 0; round < mostRounds; round++) {
    const moved = step(work, task, strength, least / 10);
    if (moved < least) return;
    if (++age >= patience || moved > before / 4) {
      work.second = undefined;
      age = 0;
    }
    before = moved;
  }
}

/** Moves towards the minimum; gives how far, as the root of what the largest move changes. */
function step(work: Work, task: PathTask, strength: number, least: number): number {
  const from = work.values.map((own) => own.slice());
  const reached = () => work.value + penaltyOf(work, task.mix, strength);
  const total = reached();
  const isWorse = () => reached() > total + 1e-12 * (Math.abs(total) + 1);
  for (;;) {
    const isFresh = work.second === undefined;
    const second = (work.second ??= secondOf(work));
    const moved = descendOn(work, task, strength, second, least);
    if (work.loss.blocks > 1 && !task.groups) recentre(work, task.mix);
    follow(work);
    if (!isWorse()) return moved;
    for (let share = 0.5; isFresh && share > 1e-4; share /= 2) {
      work.values.forEach((own, block) => {
        for (let j = 0; j < own.length; j++) own[j] = (own[j] + from[block][j]) / 2;
      });
      follow(work);
      if (!isWorse()) return moved;
    }
    work.values = from.map((own) => own.slice());
    follow(work);
    if (isFresh) return 0;
    // It bends otherwise here than where that was worked out.
    work.second = undefined;
  }
}

/** Linear predictors, loss and pulls of coefficients that were moved. */
function follow(work: Work): void {
  work.values.forEach((own, block) => work.design.combine(own, work.linear[block]));
  look(work);
}

/** Second derivatives of all chosen coefficients of one block behind those of another. */
function secondOf({ loss, design, places, shares }: Work): Float64Array {
  const { blocks } = loss;
  const count = places.length;
  const size = blocks * count;
  const second = new Float64Array(size * size);
  const bend = new Float64Array(shares.length);
  for (let a = 0; a < blocks; a++)
    for (let b = 0; b <= a; b++) {
      loss.bend(a, b, bend);
      const own = design.products(bend, places);
      for (let j = 0; j < count; j++)
        for (let k = 0; k < count; k++) {
          const value = own[j * count + k];
          second[(a * count + j) * size + b * count + k] = value;
          second[(b * count + k) * size + a * count + j] = value;
        }
    }
  return second;
}

/** What levels have in common is drawn in slowly by descent, and set at once between rounds. */
const sweepsAmongLevels = 30;

function descendOn(
  { loss, places, values, pulls, groups, chosen }: Work,
  { mix, directions }: PathTask,
  strength: number,
  bend: Float64Array,
  least: number,
): number {
  const { blocks } = loss;
  const count = places.length;
  const size = blocks * count;
  const gather = (from: Float64Array[]) => {
    const gathered = new Float64Array(size);
    for (let block = 0, at = 0; block < blocks; block++)
      for (let k = 0; k < count; k++) gathered[at++] = from[block][places[k]];
    return gathered;
  };
  const own = gather(values);
  const before = own.slice();
  const signs =
    directions && Int8Array.from(places, (place) => (place === 0 ? 0 : directions[place - 1]));
  const free: number[] = [];
  const local: Int32Array[] = [];
  for (let at = 0; at < size;) {
    free.push(at++);
    groups.forEach((group, g) => {
      if (chosen[g]) local.push(Int32Array.from(group, () => at++));
    });
  }
  const quadratic = { values: own, pull: gather(pulls), bend, size, free, groups: local, signs };
  const sweeps = blocks > 1 ? sweepsAmongLevels : undefined;
  descend(quadratic, strength * mix, strength * (1 - mix), least, sweeps);
  let moved = 0;
  for (let k = 0; k < size; k++) {
    moved = Math.max(moved, Math.abs(own[k] - before[k]) * Math.sqrt(bend[k * size + k]));
    values[Math.floor(k / count)][places[k % count]] = own[k];
  }
  return moved;
}

function penaltyOf({ groups, values }: Work, mix: number, strength: number): number {
  let [lengths, squares] = [0, 0];
  for (const own of values)
    for (const group of groups) {
      let square = 0;
      for (let k = 0; k < group.length; k++) square += own[group[k]] ** 2;
      if (square === 0) continue;
      lengths += Math.sqrt(group.length * square);
      squares += square;
    }
  return strength * (mix * lengths + ((1 - mix) / 2) * squares);
}

/**
 * What all levels have in common changes no share, only the penalty: of each input it is set so that the
 * penalty is least, and the constants' to 0.
 */
function recentre({ values, places }: Work, mix: number): void {
  for (const place of places) {
    const own = values.map((block) => block[place]);
    const common = place === 0 ? meanOf(own) : commonOf(own, mix);
    if (common !== 0) for (const block of values) block[place] -= common;
  }
}

/** The number whose distances from these cost least: between their median and their mean. */
function commonOf(values: number[], mix: number): number {
  const sorted = values.toSorted((a, b) => a - b);
  const count = sorted.length;
  const sum = meanOf(values) * count;
  // Between two neighbours the cost is a parabola, or with a lasso alone a line.
  for (let below = 1; below <= count; below++) {
    const [left, right] = [sorted[below - 1], sorted[below] ?? Infinity];
    const lean = mix * (2 * below - count);
    if (mix === 1 && lean >= 0) return lean > 0 ? left : Math.min(Math.max(0, left), right);
    const at = mix === 1 ? Infinity : sum / count - lean / ((1 - mix) * count);
    if (at <= right) return Math.max(at, left);
  }
  return sorted[count - 1];
}

const meanOf = (values: number[]): number =>
  values.reduce((sum, value) => sum + value, 0) / values.length;

function groupsOf(count: number, groups: Int32Array | undefined): Int32Array[] {
  if (!groups) return Array.from({ length: count }, (_, j) => Int32Array.of(j + 1));
  const members = new Map<number, number[]>();
  groups.forEach((group, j) => members.set(group, [...(members.get(group) ?? []), j + 1]));
  return [...members.values()].map((places) => Int32Array.from(places));
}

/** On the scale of the inputs as given. */
function pointOf({ values, means, scales }: Work): PathPoint {
  return values.map((own) => {
    const point = own.slice();
    means.forEach((mean, j) => {
      point[j + 1] = scales[j] > 0 ? own[j + 1] / scales[j] : 0;
      point[0] -= point[j + 1] * mean;
    });
    return point;
  });
}

/** What pulls a group, to be compared with the penalty on lengths. */
function lengthOf(group: Int32Array, pull: Float64Array): number {
  let square = 0;
  for (let k = 0; k < group.length; k++) square += pull[group[k]] ** 2;
  return Math.sqrt(square / group.length);
}

function sharesOf(count: number, weights: Float64Array | undefined): Float64Array {
  if (!weights) return new Float64Array(count).fill(1 / count);
  const total = weights.reduce((sum, weight) => sum + weight, 0);
  return weights.map((weight) => weight / total);
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i] * b[i];
  return sum;
}
