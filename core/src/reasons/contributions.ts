import { randomStream } from '../numeric/index.ts';
import type { PredictorColumn } from '../preparation/index.ts';
import { rowCountOf, takenRows, valuesOf, withValues, type Ask } from './ask.ts';

/** What each predictor adds to what is said of one patient, from what is said of others on average. */
export interface Contributions {
  /** Mean over those whom the patient is compared with. */
  base: number;
  /** What is said of the patient: base and contributions together. */
  said: number;
  contributions: {
    name: string;
    value: number;
    /** Of the drawing; absent where all orders were gone through. */
    standardError?: number;
  }[];
}

/** Predictors of which all sets are gone through: with more their number would be too large. */
export const mostExact = 6;

/**
 * Shapley values of the predictors, by giving a patient's values to others step by step: exactly over all sets
 * of predictors where these are few, else over orders that are drawn, each there and back (Štrumbelj & Kononenko
 * 2014, Knowledge and Information Systems 41:647-665; Lundberg & Lee 2017, NeurIPS 30). They add up exactly.
 *
 * @param patient one row of the same columns
 * @param others those whom the patient is compared with
 * @param orders how many orders are drawn, each with one of the others, and as many back
 */
export function contributionsOf(
  ask: Ask,
  patient: PredictorColumn[],
  others: PredictorColumn[],
  { orders = 200, seed = 1 } = {},
): Contributions {
  return patient.length <= mostExact
    ? exact(ask, patient, others)
    : drawn(ask, patient, others, orders, seed);
}

/** Each column: the patient's own value where told so, else that of one of the others. */
function mixed(
  patient: PredictorColumn[],
  others: PredictorColumn[],
  places: ArrayLike<number>,
  isOwn: (i: number, column: number) => boolean,
): PredictorColumn[] {
  return others.map((column, j) => {
    const [own] = [valuesOf(patient[j])[0]];
    const theirs = valuesOf(column);
    return withValues(
      column,
      Array.from(places, (place, i) => (isOwn(i, j) ? own : theirs[place])),
    );
  });
}

function exact(ask: Ask, patient: PredictorColumn[], others: PredictorColumn[]): Contributions {
  const count = patient.length;
  const rows = rowCountOf(others);
  const sets = 1 << count;
  const places = Int32Array.from({ length: sets * rows }, (_, i) => i % rows);
  const said = ask(
    mixed(patient, others, places, (i, j) => ((Math.floor(i / rows) >> j) & 1) === 1),
    places.length,
  );
  const means = Array.from({ length: sets }, (_, set) => {
    let sum = 0;
    for (let i = 0; i < rows; i++) sum += said[set * rows + i];
    return sum / rows;
  });
  const sizeOf = (set: number) => {
    let size = 0;
    for (let left = set; left > 0; left >>= 1) size += left & 1;
    return size;
  };
  // s! (p - s - 1)! / p!
  const weights = Array.from({ length: count }, (_, size) => {
    let weight = 1 / count;
    for (let k = 1; k <= size; k++) weight *= k / (count - k);
    return weight;
  });
  return {
    base: means[0],
    said: means[sets - 1],
    contributions: patient.map(({ name }, j) => {
      let value = 0;
      for (let set = 0; set < sets; set++)
        if (((set >> j) & 1) === 0)
          value += weights[sizeOf(set)] * (means[set | (1 << j)] - means[set]);
      return { name, value };
    }),
  };
}

function drawn(
  ask: Ask,
  patient: PredictorColumn[],
  others: PredictorColumn[],
  orders: number,
  seed: number,
): Contributions {
  const count = patient.length;
  const rows = rowCountOf(others);
  const draw = randomStream(seed, 'contributions');
  // The others in turn, so that each is compared with nearly as often.
  const start = Math.floor(draw.uniform() * rows);
  const walks = Array.from({ length: orders }, (_, k) => {
    const order = Array.from({ length: count }, (_, j) => j);
    for (let j = count - 1; j > 0; j--) {
      const other = Math.floor(draw.uniform() * (j + 1));
      [order[j], order[other]] = [order[other], order[j]];
    }
    return { other: (start + Math.floor((k * rows) / orders)) % rows, order };
  });
  // Of each walk the states after 0 … count steps, there and back; the ends of both are the same.
  const perWalk = 2 * count;
  const steps = walks.map(({ order }) => {
    const rank = new Int32Array(count);
    order.forEach((j, step) => (rank[j] = step));
    return rank;
  });
  const places = Int32Array.from(
    { length: orders * perWalk },
    (_, i) => walks[Math.floor(i / perWalk)].other,
  );
  const said = ask(
    mixed(patient, others, places, (i, j) => {
      const rank = steps[Math.floor(i / perWalk)][j];
      const state = i % perWalk;
      // 0 … count: the first ones of the order are the patient's; then the last ones.
      return state <= count ? rank < state : rank >= 2 * count - state;
    }),
    places.length,
  );
  const sums = new Float64Array(count);
  const squares = new Float64Array(count);
  let base = 0;
  walks.forEach(({ order }, k) => {
    const at = (state: number) => said[k * perWalk + state];
    base += at(0);
    order.forEach((j, step) => {
      const there = at(step + 1) - at(step);
      // Back: with all from this step on against all behind it; the ends are those of the way there.
      const from = step === 0 ? at(count) : at(2 * count - step);
      const behind = step === count - 1 ? at(0) : at(2 * count - step - 1);
      const own = (there + from - behind) / 2;
      sums[j] += own;
      squares[j] += own ** 2;
    });
  });
  base /= orders;
  const contributions = patient.map(({ name }, j) => {
    const value = sums[j] / orders;
    const variance = Math.max(0, squares[j] / orders - value ** 2) / Math.max(1, orders - 1);
    return { name, value, standardError: Math.sqrt(variance) };
  });
  return {
    base,
    said: base + contributions.reduce((sum, { value }) => sum + value, 0),
    contributions,
  };
}

/** The rows of the columns, for those whom a patient is compared with. */
export const comparedWith = (columns: PredictorColumn[], places: ArrayLike<number>) =>
  columns.map((column) => takenRows(column, places));
