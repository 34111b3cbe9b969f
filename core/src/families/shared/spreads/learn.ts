import { ascendingOrder } from '../../../numeric/index.ts';
import type { CountSpread, KernelSpread, NormalSpread } from './spread.ts';

/** Patients of the outcome's levels, and how much each counts. */
export interface Learners {
  codes: ArrayLike<number>;
  levels: number;
  weights?: Float64Array;
}

/**
 * Normal curves; undefined where no level has two different values. A level with fewer borrows the common
 * deviation of the others, one without any the mean of all.
 */
export function learnNormal(
  values: Float64Array,
  { codes, levels, weights }: Learners,
): NormalSpread | undefined {
  const [total, sums, squares] = [0, 1, 2].map(() => new Float64Array(levels));
  for (let row = 0; row < values.length; row++) {
    if (Number.isNaN(values[row])) continue;
    const weight = weights ? weights[row] : 1;
    total[codes[row]] += weight;
    sums[codes[row]] += weight * values[row];
  }
  const all = sumOf(sums) / sumOf(total);
  const means = Array.from(sums, (sum, level) => (total[level] > 0 ? sum / total[level] : all));
  for (let row = 0; row < values.length; row++) {
    const away = values[row] - means[codes[row]];
    if (!Number.isNaN(away)) squares[codes[row]] += (weights ? weights[row] : 1) * away * away;
  }
  const own = means.map((_, level) =>
    total[level] > 1 ? Math.sqrt(squares[level] / (total[level] - 1)) : 0,
  );
  const isSpread = own.map((deviation, level) => deviation > 1e-9 * Math.abs(means[level]));
  const spread = [...total.keys()].filter((level) => isSpread[level]);
  if (spread.length === 0) return undefined;
  const of = (each: Float64Array) => spread.reduce((sum, level) => sum + each[level], 0);
  const common = Math.sqrt(of(squares) / (of(total) - spread.length));
  return {
    by: 'normal',
    means,
    deviations: own.map((deviation, level) => (isSpread[level] ? deviation : common)),
    borrowed: [...total.keys()].filter((level) => !isSpread[level]),
  };
}

const sumOf = (values: Float64Array): number => values.reduce((sum, one) => sum + one, 0);

/** Curves of a level are kept over so many different values; more are taken together. */
const mostCentres = 1024;

/**
 * Small normal curves, as wide as Silverman (1986, Density Estimation, equation 3.31) says: 0.9 × the
 * smaller of SD and quartile distance / 1.34, divided by the fifth root of how many there are.
 */
export function learnKernel(values: Float64Array, learners: Learners): KernelSpread | undefined {
  const normal = learnNormal(values, learners);
  if (!normal) return undefined;
  const { codes, levels, weights } = learners;
  const order = ascendingOrder(values);
  const { borrowed } = normal;
  const spread: KernelSpread = { by: 'kernel', widths: [], centres: [], masses: [], borrowed };
  for (let level = 0; level < levels; level++) {
    const own = order.filter((row) => codes[row] === level);
    const isThere = own.length > 0;
    const sorted = isThere
      ? Float64Array.from(own, (row) => values[row])
      : Float64Array.of(normal.means[level]);
    const counts = isThere
      ? Float64Array.from(own, (row) => (weights ? weights[row] : 1))
      : Float64Array.of(1);
    const total = sumOf(counts);
    const quartile = (share: number) =>
      weightedQuantile(sorted, counts, share * Math.max(0, total - 1));
    const distance = (quartile(0.75) - quartile(0.25)) / 1.34;
    const deviation = normal.deviations[level];
    const least = Math.min(deviation, distance > 0 ? distance : deviation);
    spread.widths.push(0.9 * least * total ** -0.2);
    const { centres, masses } = together(sorted, counts);
    spread.centres.push(centres);
    spread.masses.push(masses.map((mass) => mass / total));
  }
  return spread;
}

/**
 * Shares of a predictor's levels, each as if so many more patients had it.
 *
 * @param values codes of `names`
 */
export function learnCounts(
  values: Float64Array,
  names: string[],
  { codes, levels, weights }: Learners,
  added: number,
): CountSpread | undefined {
  const counts = Array.from({ length: levels }, () => new Float64Array(names.length));
  for (let row = 0; row < values.length; row++)
    if (!Number.isNaN(values[row])) counts[codes[row]][values[row]] += weights ? weights[row] : 1;
  const there = names.filter((_, k) => counts.some((own) => own[k] > 0)).length;
  if (there < 2) return undefined;
  const shares = counts.map((own) => {
    const total = sumOf(own) + added * names.length;
    return Array.from(own, (count) => (count + added) / total);
  });
  return { by: 'counts', levels: names, shares };
}

/** Between the neighbours of a place, counted from 0, where each value stands as often as it counts. */
function weightedQuantile(sorted: Float64Array, counts: Float64Array, place: number): number {
  const valueAt = (wanted: number) => {
    let before = 0;
    for (let i = 0; i < sorted.length; i++) {
      before += counts[i];
      if (before > wanted + 1e-9) return sorted[i];
    }
    return sorted[sorted.length - 1];
  };
  const below = Math.floor(place + 1e-9);
  const share = Math.max(0, place - below);
  const [low, high] = [valueAt(below), valueAt(below + 1)];
  return low + share * (high - low);
}

/** Equal values once; where different ones are too many, those of each narrow range at their mean. */
function together(sorted: Float64Array, counts: Float64Array) {
  let different = 0;
  for (let i = 0; i < sorted.length; i++) if (i === 0 || sorted[i] !== sorted[i - 1]) different++;
  const [from, to] = [sorted[0], sorted[sorted.length - 1]];
  const rangeOf = (value: number) => Math.floor(((value - from) / (to - from)) * (mostCentres - 1));
  const isSame = (i: number) =>
    different <= mostCentres
      ? sorted[i] === sorted[i - 1]
      : rangeOf(sorted[i]) === rangeOf(sorted[i - 1]);
  const centres: number[] = [];
  const masses: number[] = [];
  for (let i = 0; i < sorted.length; i++) {
    if (i === 0 || !isSame(i)) {
      centres.push(0);
      masses.push(0);
    }
    centres[centres.length - 1] += counts[i] * sorted[i];
    masses[masses.length - 1] += counts[i];
  }
  return {
    centres: Float64Array.from(centres, (sum, k) => sum / masses[k]),
    masses: Float64Array.from(masses),
  };
}
