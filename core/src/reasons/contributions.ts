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
 * @param sampling.orders largest number of random orders, each with one of the others, and as many back
 * @param sampling.until sampling ends when no contribution has a larger standard error; 0 takes all orders
 */
export function contributionsOf(
  ask: Ask,
  patient: PredictorColumn[],
  others: PredictorColumn[],
  sampling: Partial<Sampling> = {},
): Contributions {
  return patient.length <= mostExact
    ? exact(ask, patient, others)
    : sampled(ask, patient, others, { orders: 200, seed: 1, until: 0, ...sampling });
}

export interface Sampling {
  orders: number;
  seed: number;
  until: number;
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

/** Orders that are asked about together, after which it is seen whether they are enough. */
const batch = 20;
/** Share of the way from one of the others to the next: they are visited evenly however many orders there are. */
const golden = (Math.sqrt(5) - 1) / 2;

function sampled(
  ask: Ask,
  patient: PredictorColumn[],
  others: PredictorColumn[],
  { orders, seed, until }: Sampling,
): Contributions {
  const count = patient.length;
  const rows = rowCountOf(others);
  // A patient's own stream: the same orders whoever else is asked about.
  const own = patient.map((column) => String(valuesOf(column)[0])).join('|');
  const draw = randomStream(seed, `contributions ${own}`);
  const start = draw.uniform();
  const sums = new Float64Array(count);
  const squares = new Float64Array(count);
  let base = 0;
  let done = 0;
  const errorOf = (j: number) =>
    Math.sqrt(Math.max(0, squares[j] / done - (sums[j] / done) ** 2) / Math.max(1, done - 1));
  while (done < orders) {
    const walks = Array.from({ length: Math.min(batch, orders - done) }, (_, k): Walk => ({
      other: Math.floor(((start + (done + k) * golden) % 1) * rows),
      order: shuffled(count, draw),
    }));
    const told = alongWalks(ask, patient, others, walks);
    base += told.base;
    told.added.forEach((values, j) =>
      values.forEach((value) => {
        sums[j] += value;
        squares[j] += value ** 2;
      }),
    );
    done += walks.length;
    if (until > 0 && sums.every((_, j) => errorOf(j) <= until)) break;
  }
  base /= done;
  const contributions = patient.map(({ name }, j) => ({
    name,
    value: sums[j] / done,
    standardError: errorOf(j),
  }));
  return {
    base,
    said: base + contributions.reduce((sum, { value }) => sum + value, 0),
    contributions,
  };
}

interface Walk {
  /** Whom the patient is compared with. */
  other: number;
  /** Predictors in the order in which the patient's values are given. */
  order: number[];
}

function shuffled(count: number, draw: { uniform: () => number }): number[] {
  const order = Array.from({ length: count }, (_, j) => j);
  for (let j = count - 1; j > 0; j--) {
    const other = Math.floor(draw.uniform() * (j + 1));
    [order[j], order[other]] = [order[other], order[j]];
  }
  return order;
}

/** What each predictor adds along each walk, there and back, and the sum of what the others begin with. */
function alongWalks(
  ask: Ask,
  patient: PredictorColumn[],
  others: PredictorColumn[],
  walks: Walk[],
): { base: number; added: number[][] } {
  const count = patient.length;
  // Of each walk the states after 0 … count steps, there and back; the ends of both are the same.
  const perWalk = 2 * count;
  const steps = walks.map(({ order }) => {
    const rank = new Int32Array(count);
    order.forEach((j, step) => (rank[j] = step));
    return rank;
  });
  const places = Int32Array.from(
    { length: walks.length * perWalk },
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
  const added = patient.map(() => new Array<number>(walks.length).fill(0));
  let base = 0;
  walks.forEach(({ order }, k) => {
    const at = (state: number) => said[k * perWalk + state];
    base += at(0);
    order.forEach((j, step) => {
      const there = at(step + 1) - at(step);
      // Back: with all from this step on against all behind it; the ends are those of the way there.
      const from = step === 0 ? at(count) : at(2 * count - step);
      const behind = step === count - 1 ? at(0) : at(2 * count - step - 1);
      added[j][k] = (there + from - behind) / 2;
    });
  });
  return { base, added };
}

/** The rows of the columns, for those whom a patient is compared with. */
export const comparedWith = (columns: PredictorColumn[], places: ArrayLike<number>) =>
  columns.map((column) => takenRows(column, places));
