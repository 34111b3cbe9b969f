import { logistic } from '../../numeric/index.ts';

/** Inputs with mean 0 and SD 1, and what it takes to go back. */
export interface Centred {
  rowCount: number;
  columns: Float64Array[];
  means: number[];
  scales: number[];
}

export interface Scratch {
  weighted: Float64Array;
  residual: Float64Array;
  linear: Float64Array;
  block: Float64Array;
  information: Float64Array;
}

/** Patients a block: one block of a column stays in the processor's first cache. */
const blockRows = 1024;

export function newScratch(rowCount: number, size: number): Scratch {
  return {
    weighted: new Float64Array(rowCount),
    residual: new Float64Array(rowCount),
    linear: new Float64Array(rowCount),
    block: new Float64Array(blockRows),
    information: new Float64Array(size * size),
  };
}

/**
 * Score, Fisher information (lower triangle, row-major) and deviance at the given estimates
 * (intercept first). The information array belongs to the scratch space and is overwritten.
 */
export function scoreAndInformation(
  inputs: Centred,
  events: ArrayLike<number>,
  weights: Float64Array | undefined,
  estimates: Float64Array,
  scratch: Scratch,
) {
  const { rowCount, columns } = inputs;
  const { weighted, residual, linear } = scratch;
  linear.fill(estimates[0]);
  columns.forEach((column, j) => {
    const slope = estimates[j + 1];
    if (slope !== 0) for (let i = 0; i < rowCount; i++) linear[i] += slope * column[i];
  });
  let deviance = 0;
  let certain = 0;
  for (let i = 0; i < rowCount; i++) {
    const weight = weights ? weights[i] : 1;
    const risk = logistic(linear[i]);
    residual[i] = weight * (events[i] - risk);
    weighted[i] = weight * risk * (1 - risk);
    // -log p of the outcome seen, written so that it keeps its digits when p is near 1.
    const margin = events[i] ? linear[i] : -linear[i];
    deviance +=
      2 *
      weight *
      (margin > 0 ? Math.log1p(Math.exp(-margin)) : Math.log1p(Math.exp(margin)) - margin);
    if (Math.abs(events[i] - risk) < 1e-6) certain++;
  }
  const score = new Float64Array(columns.length + 1);
  for (let i = 0; i < rowCount; i++) score[0] += residual[i];
  columns.forEach((column, j) => {
    let sum = 0;
    for (let i = 0; i < rowCount; i++) sum += residual[i] * column[i];
    score[j + 1] = sum;
  });
  return { score, information: information(inputs, scratch), deviance, certain };
}

/** Xᵗ W X with a column of ones first, block by block so that the columns are read from cache. */
function information({ rowCount, columns }: Centred, scratch: Scratch): Float64Array {
  const size = columns.length + 1;
  const { weighted, block, information: sums } = scratch;
  sums.fill(0);
  for (let start = 0; start < rowCount; start += blockRows) {
    const length = Math.min(blockRows, rowCount - start);
    const weights = weighted.subarray(start, start + length);
    for (let i = 0; i < length; i++) sums[0] += weights[i];
    for (let j = 1; j < size; j++) {
      const column = columns[j - 1].subarray(start, start + length);
      let sum = 0;
      for (let i = 0; i < length; i++) {
        block[i] = weights[i] * column[i];
        sum += block[i];
      }
      sums[j * size] += sum;
      for (let k = 1; k <= j; k++) sums[j * size + k] += dot(block, columns[k - 1], start, length);
    }
  }
  return sums;
}

/** Four running sums: the processor adds them side by side, a single one would wait for itself. */
function dot(block: Float64Array, column: Float64Array, start: number, length: number): number {
  let [a, b, c, d] = [0, 0, 0, 0];
  let i = 0;
  for (; i + 3 < length; i += 4) {
    a += block[i] * column[start + i];
    b += block[i + 1] * column[start + i + 1];
    c += block[i + 2] * column[start + i + 2];
    d += block[i + 3] * column[start + i + 3];
  }
  for (; i < length; i++) a += block[i] * column[start + i];
  return a + b + (c + d);
}
