import { factorise, solve } from '../../numeric/index.ts';

/** A quadratic function of some coefficients with a penalty: what a step towards the minimum solves. */
export interface Quadratic {
  /** Coefficients; moved in place. */
  values: Float64Array;
  /** Minus the derivative at the values; kept up to date. */
  pull: Float64Array;
  /** Second derivatives, size × size, row-major, both halves. */
  bend: Float64Array;
  size: number;
  /** Places of constants, which nothing is asked for. */
  free: number[];
  /** Places of coefficients that go in or out together. */
  groups: Int32Array[];
  /** By place 1 or -1 where a coefficient may not be below or above 0; of groups of one only. */
  signs?: Int8Array;
}

/**
 * Minimum of the quadratic plus `lasso` × sum over groups of sqrt(size) × length, plus `ridge` / 2 × sum of
 * squares, by cyclic descent over groups (Friedman, Hastie & Tibshirani 2010, Journal of Statistical
 * Software 33:1; groups after Yuan & Lin 2006, JRSS B 68:49-67).
 *
 * @param least descent ends when no coefficient moves the function by more than half its square
 */
export function descend(
  of: Quadratic,
  lasso: number,
  ridge: number,
  least: number,
  mostSweeps = 10_000,
): void {
  const { free, groups, values, pull, bend, size, signs } = of;
  const moves = new Float64Array(
    groups.reduce((longest, { length }) => Math.max(longest, length), 0),
  );
  for (let sweep = 0; sweep < mostSweeps; sweep++) {
    let most = 0;
    for (const j of free) {
      const curve = bend[j * size + j];
      if (!(curve > 0)) continue;
      const by = pull[j] / curve;
      most = Math.max(most, curve * by * by);
      move(of, j, by);
    }
    for (const group of groups) {
      // Of one coefficient its own; of several as much as they can have together.
      let curve = 0;
      for (let k = 0; k < group.length; k++) curve += bend[group[k] * size + group[k]];
      if (!(curve > 0)) continue;
      let square = 0;
      for (let k = 0; k < group.length; k++)
        square += (pull[group[k]] + curve * values[group[k]]) ** 2;
      const length = Math.sqrt(square);
      const bound = lasso * Math.sqrt(group.length);
      const kept = length > bound ? (1 - bound / length) / (curve + ridge) : 0;
      // All of a group move together, from where the function pulls them now.
      for (let k = 0; k < group.length; k++) {
        const j = group[k];
        const next = kept * (pull[j] + curve * values[j]);
        moves[k] = (signs && signs[j] * next < 0 ? 0 : next) - values[j];
      }
      for (let k = 0; k < group.length; k++) {
        if (moves[k] === 0) continue;
        most = Math.max(most, curve * moves[k] * moves[k]);
        move(of, group[k], moves[k]);
      }
    }
    if (most < least * least) return;
    if (sweep % leapEvery === leapEvery - 1) leap(of, lasso, ridge);
  }
}

/** Inputs that say nearly the same are slow to settle one by one. */
const leapEvery = 5;

/**
 * Moves all coefficients that are not 0 to the minimum that they have together with their signs as they
 * are, or as far towards it as the first of them comes to 0. Groups of several stay.
 */
function leap(of: Quadratic, lasso: number, ridge: number): void {
  const { free, groups, values, pull, bend, size } = of;
  const penalised = groups.flatMap(([j, ...others]) =>
    others.length === 0 && values[j] !== 0 ? [j] : [],
  );
  const places = [...free, ...penalised].filter((j) => bend[j * size + j] > 0);
  const isFree = new Set(free);
  const count = places.length;
  const second = new Float64Array(count * count);
  const right = new Float64Array(count);
  places.forEach((j, a) => {
    for (let b = 0; b <= a; b++) second[a * count + b] = bend[j * size + places[b]];
    right[a] = pull[j];
    if (isFree.has(j)) return;
    second[a * count + a] += ridge;
    right[a] -= ridge * values[j] + lasso * Math.sign(values[j]);
  });
  const way = solve(factorise(second, count), right);
  let share = 1;
  let first = -1;
  places.forEach((j, a) => {
    const toNone = -values[j] / way[a];
    if (isFree.has(j) || !(toNone > 0 && toNone < share)) return;
    share = toNone;
    first = j;
  });
  places.forEach((j, a) => {
    const by = j === first ? -values[j] : share * way[a];
    if (by !== 0) move(of, j, by);
  });
}

function move({ values, pull, bend, size }: Quadratic, j: number, by: number): void {
  values[j] += by;
  const row = j * size;
  for (let k = 0; k < size; k++) pull[k] -= bend[row + k] * by;
}
