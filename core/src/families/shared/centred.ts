import type { Inputs } from '../../preparation/index.ts';

/** Inputs as given, and what makes their means 0 and their SDs 1 where they are read. */
export interface Centred {
  rowCount: number;
  columns: Float64Array[];
  means: number[];
  scales: number[];
  /** 1 / scale; 0 for an input that does not vary, which is 0 throughout. */
  factors: number[];
}

/** Σ direction × centred input of each patient, intercept first. */
export function along(
  { rowCount, columns, means, factors }: Centred,
  direction: Float64Array,
): Float64Array {
  const sums = new Float64Array(rowCount).fill(direction[0]);
  columns.forEach((column, j) => {
    const slope = direction[j + 1] * factors[j];
    const mean = means[j];
    if (slope !== 0) for (let i = 0; i < rowCount; i++) sums[i] += slope * (column[i] - mean);
  });
  return sums;
}

/** Mean and SD of each input; a constant one becomes 0 and is left out by its pivot. */
export function centre({ rowCount, columns }: Inputs, weights?: Float64Array): Centred {
  const means: number[] = [];
  const scales: number[] = [];
  const factors: number[] = [];
  for (const column of columns) {
    const { mean, scale } = weights ? weightedMoments(column, weights) : moments(column);
    const usable = scale > 1e-12 * Math.abs(mean) && scale > 0;
    means.push(mean);
    scales.push(usable ? scale : 1);
    factors.push(usable ? 1 / scale : 0);
  }
  return { rowCount, columns, means, scales, factors };
}

/** Relative to the first value, so that one pass loses no digits where the values lie far from 0. */
function moments(column: Float64Array) {
  const origin = column[0];
  let sum = 0;
  let squares = 0;
  for (let i = 0; i < column.length; i++) {
    const away = column[i] - origin;
    sum += away;
    squares += away * away;
  }
  const mean = sum / column.length;
  return {
    mean: origin + mean,
    scale: Math.sqrt(Math.max(0, squares / column.length - mean ** 2)),
  };
}

function weightedMoments(column: Float64Array, weights: Float64Array) {
  let total = 0;
  let sum = 0;
  for (let i = 0; i < column.length; i++) {
    total += weights[i];
    sum += weights[i] * column[i];
  }
  const mean = sum / total;
  let squares = 0;
  for (let i = 0; i < column.length; i++) squares += weights[i] * (column[i] - mean) ** 2;
  return { mean, scale: Math.sqrt(squares / total) };
}

/** Estimates and covariance on the scale of the inputs as given: b' = T b, V' = T V Tᵗ. */
export function uncentre(
  { means, scales }: Centred,
  estimates: Float64Array,
  inverse: Float64Array,
) {
  const size = estimates.length;
  const back = new Float64Array(size);
  back[0] = estimates[0];
  for (let j = 1; j < size; j++) {
    back[j] = estimates[j] / scales[j - 1];
    back[0] -= back[j] * means[j - 1];
  }
  const intercept = Float64Array.from({ length: size }, (_, j) =>
    j === 0 ? 1 : -means[j - 1] / scales[j - 1],
  );
  const covariance = new Float64Array(size * size);
  const interceptRow = new Float64Array(size);
  for (let j = 0; j < size; j++)
    for (let k = 0; k < size; k++) interceptRow[j] += intercept[k] * inverse[k * size + j];
  for (let j = 1; j < size; j++)
    for (let k = 1; k < size; k++)
      covariance[j * size + k] = inverse[j * size + k] / (scales[j - 1] * scales[k - 1]);
  for (let j = 0; j < size; j++) covariance[0] += interceptRow[j] * intercept[j];
  for (let j = 1; j < size; j++)
    covariance[j] = covariance[j * size] = interceptRow[j] / scales[j - 1];
  return { estimates: back, covariance };
}
