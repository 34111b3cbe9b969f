import { designBlocks, factorise, type Factor } from '../../numeric/index.ts';
import { FitObstacle } from '../family.ts';
import type { Learners } from '../shared/index.ts';

/** A level of the outcome as a cloud: its mean, and what makes it round and of unit size. */
export interface Cloud {
  mean: Float64Array;
  /** Lower triangle T, row-major, with T C Tᵗ the identity for the cloud's covariance C. */
  whitening: Float64Array;
  /** Of C. */
  logDeterminant: number;
}

export interface CloudSettings {
  /** Whether each level has a shape of its own, before it is drawn towards that of all. */
  ownShapes: boolean;
  /** Shares of the common shape, and of a round one. */
  pooled: number;
  round: number;
}

export interface Moments {
  /** Weighted patients of each level. */
  totals: Float64Array;
  means: Float64Array[];
  /** Sums of squares and products about the mean of each level, row-major. */
  products: Float64Array[];
  /** Covariance within levels, divisor patients - levels. */
  within: Float64Array;
}

/** Means of levels, and how inputs vary and go together about them. */
export function momentsOf(columns: Float64Array[], { codes, levels, weights }: Learners): Moments {
  const size = columns.length;
  const patients = codes.length;
  const totals = new Float64Array(levels);
  const means = Array.from({ length: levels }, () => new Float64Array(size));
  const weightOf = (row: number) => (weights ? weights[row] : 1);
  for (let row = 0; row < patients; row++) totals[codes[row]] += weightOf(row);
  columns.forEach((column, j) => {
    for (let row = 0; row < patients; row++) means[codes[row]][j] += weightOf(row) * column[row];
    const all = means.reduce((sum, mean) => sum + mean[j], 0) / sumOf(totals);
    // A level that nobody here has lies where all lie.
    for (let level = 0; level < levels; level++)
      means[level][j] = totals[level] > 0 ? means[level][j] / totals[level] : all;
  });
  const inputs = Int32Array.from({ length: size }, (_, j) => j + 1);
  const factors = new Float64Array(size).fill(1);
  const everybody = weights ?? new Float64Array(patients).fill(1);
  const products = rowsByLevel(codes, levels).map((rows, level) => {
    if (rows.length === 0 || size === 0) return new Float64Array(size * size);
    const own = columns.map((column) => pick(column, rows));
    const { length: rowCount } = rows;
    const blocks = designBlocks({ rowCount, columns: own, means: means[level], factors });
    return blocks.products(pick(everybody, rows), inputs);
  });
  const there = totals.filter((total) => total > 0).length;
  const free = sumOf(totals) - there;
  const within = products[0].map((_, at) => products.reduce((sum, own) => sum + own[at] / free, 0));
  return { totals, means, products, within };
}

/**
 * Linear and quadratic discriminants (Fisher 1936, Annals of Eugenics 7:179-188), their covariances drawn
 * towards the common one and a round one after Friedman (1989, JASA 84:165-175, equations 17 and 18).
 * Throws where a covariance has no inverse, with the figures.
 */
export function cloudsOf(
  { totals, means, products, within }: Moments,
  levels: string[],
  { ownShapes, pooled, round }: CloudSettings,
): Cloud[] {
  const size = means[0].length;
  const free = sumOf(totals) - totals.filter((total) => total > 0).length;
  const common = ownShapes ? undefined : cloudOf(rounded(within, size, round), size);
  return means.map((mean, level): Cloud => {
    if (common) return { mean, ...common };
    const own = Math.max(0, totals[level] - 1);
    const weight = (1 - pooled) * own + pooled * free;
    const covariance = products[level].map(
      (sum, at) => ((1 - pooled) * sum + pooled * free * within[at]) / weight,
    );
    const found = weight > 0 ? cloudOf(rounded(covariance, size, round), size) : undefined;
    if (!found)
      throw new FitObstacle(
        `The ${Math.round(totals[level])} patients with ${levels[level]} are too few, or too alike, for a shape of their own in ${size} inputs: draw shapes towards the common one or a round one, or use fewer predictors.`,
      );
    return { mean, ...found };
  });
}

function rowsByLevel(codes: ArrayLike<number>, levels: number): Int32Array[] {
  const rows = Array.from({ length: levels }, () => new Int32Array(codes.length));
  const counts = new Int32Array(levels);
  for (let row = 0; row < codes.length; row++) rows[codes[row]][counts[codes[row]]++] = row;
  return rows.map((own, level) => own.subarray(0, counts[level]));
}

function pick(values: Float64Array, rows: Int32Array): Float64Array {
  const picked = new Float64Array(rows.length);
  for (let i = 0; i < rows.length; i++) picked[i] = values[rows[i]];
  return picked;
}

const sumOf = (values: Float64Array): number => values.reduce((sum, one) => sum + one, 0);

/** False for inputs that repeat others, or do not vary within levels. */
export const keptIn = (within: Float64Array, size: number): boolean[] =>
  factorise(within, size, 1e-9).kept;

function rounded(covariance: Float64Array, size: number, round: number): Float64Array {
  if (round === 0) return covariance;
  let trace = 0;
  for (let j = 0; j < size; j++) trace += covariance[j * size + j];
  return covariance.map(
    (value, at) => (1 - round) * value + (at % (size + 1) === 0 ? (round * trace) / size : 0),
  );
}

function cloudOf(covariance: Float64Array, size: number): Omit<Cloud, 'mean'> | undefined {
  const factor = factorise(covariance, size, 1e-9);
  if (!factor.kept.every(Boolean)) return undefined;
  let logDeterminant = 0;
  for (let j = 0; j < size; j++) logDeterminant += 2 * Math.log(factor.lower[j * size + j]);
  return { whitening: inverseOf(factor), logDeterminant };
}

/** Of a lower triangle. */
function inverseOf({ lower, size }: Factor): Float64Array {
  const inverse = new Float64Array(size * size);
  for (let j = 0; j < size; j++)
    for (let i = j; i < size; i++) {
      let sum = Number(i === j);
      for (let k = j; k < i; k++) sum -= lower[i * size + k] * inverse[k * size + j];
      inverse[i * size + j] = sum / lower[i * size + i];
    }
  return inverse;
}
