import type { Binned } from './binned.ts';

/** What a tree is grown towards: running sums of it tell how alike patients are. */
export interface Target {
  criterion: Criterion | 'squares';
  /** Numbers a patient adds to a sum: one for each level, or weight and weighted value. */
  width: number;
  /** Of levels, how much more a patient of each counts. */
  factor: Float64Array;
  /** Whether one order of levels holds the best way to part them. */
  isTwoSided: boolean;
  /** Adds a patient to the sums that begin at a place. */
  codes?: ArrayLike<number>;
  values?: Float64Array;
  weights?: Float64Array;
  /** How alike patients with these sums are, times their weight: the higher, the more alike. */
  likeness(sums: Float64Array, at: number): number;
  /** Weight of patients with these sums. */
  weightOf(sums: Float64Array, at: number): number;
  /** What levels are put in order by: the share of a level, or the mean. @param level 0 for a number */
  standing(sums: Float64Array, at: number, level: number): number;
}

export type Criterion = 'Gini' | 'entropy';

/**
 * Levels of an outcome; two of them for yes and no.
 *
 * @param costs what a wrong label of each level costs in all, by which its patients count more
 */
export function levelTarget(
  codes: ArrayLike<number>,
  levels: number,
  criterion: Criterion,
  { weights, costs }: { weights?: Float64Array; costs?: number[] } = {},
): Target {
  const factor = Float64Array.from({ length: levels }, (_, k) => costs?.[k] ?? 1);
  const weightOf = (sums: Float64Array, at: number) => {
    let weight = 0;
    for (let k = 0; k < levels; k++) weight += sums[at + k];
    return weight;
  };
  const counted = (sums: Float64Array, at: number) => {
    let weight = 0;
    for (let k = 0; k < levels; k++) weight += factor[k] * sums[at + k];
    return weight;
  };
  const gini = (sums: Float64Array, at: number) => {
    let [weight, squares] = [0, 0];
    for (let k = 0; k < levels; k++) {
      const sum = factor[k] * sums[at + k];
      weight += sum;
      squares += sum * sum;
    }
    return weight > 0 ? squares / weight : 0;
  };
  const entropy = (sums: Float64Array, at: number) => {
    let [weight, logs] = [0, 0];
    for (let k = 0; k < levels; k++) {
      const sum = factor[k] * sums[at + k];
      weight += sum;
      if (sum > 0) logs += sum * Math.log(sum);
    }
    return weight > 0 ? logs - weight * Math.log(weight) : 0;
  };
  return {
    criterion,
    width: levels,
    factor,
    isTwoSided: levels === 2,
    codes,
    weights,
    likeness: criterion === 'Gini' ? gini : entropy,
    weightOf,
    standing: (sums, at, level) => (factor[level] * sums[at + level]) / counted(sums, at),
  };
}

/** A number, by squared distances from the mean. @param values about their mean */
export function numberTarget(values: Float64Array, weights?: Float64Array): Target {
  return {
    criterion: 'squares',
    width: 2,
    factor: new Float64Array(),
    isTwoSided: true,
    values,
    weights,
    likeness: (sums, at) => (sums[at] > 0 ? (sums[at + 1] * sums[at + 1]) / sums[at] : 0),
    weightOf: (sums, at) => sums[at],
    standing: (sums, at) => sums[at + 1] / sums[at],
  };
}

/** Adds these patients to the sums of the bins they are in, of every column. */
export function addRows(
  target: Target,
  { cells, columns: { length } }: Binned,
  rows: Int32Array,
  [from, to]: [number, number],
  sums: Float64Array,
): void {
  const { width, weights, codes } = target;
  if (codes) {
    for (let i = from; i < to; i++) {
      const row = rows[i];
      const level = codes[row];
      const weight = weights ? weights[row] : 1;
      for (let at = row * length; at < (row + 1) * length; at++)
        sums[width * cells[at] + level] += weight;
    }
    return;
  }
  const values = target.values!;
  for (let i = from; i < to; i++) {
    const row = rows[i];
    const weight = weights ? weights[row] : 1;
    const value = weight * values[row];
    for (let at = row * length; at < (row + 1) * length; at++) {
      const place = 2 * cells[at];
      sums[place] += weight;
      sums[place + 1] += value;
    }
  }
}
