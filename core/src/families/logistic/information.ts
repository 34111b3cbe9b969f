import { blockRows, productBlock, type ProductBlock } from '../../numeric/index.ts';

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

/** Room for one block of patients with a column of ones first. @param size inputs and the intercept */
export function newBlock(size: number): ProductBlock {
  const block = productBlock(size);
  block.columns[0].fill(1);
  return block;
}

/**
 * Score, Fisher information (lower triangle, row-major) and deviance at the given estimates
 * (intercept first). The information array belongs to the block and is overwritten. Block by
 * block, so that the inputs of a block are read from memory once for all three.
 */
export function scoreAndInformation(
  inputs: Centred,
  events: ArrayLike<number>,
  weights: Float64Array | undefined,
  estimates: Float64Array,
  block: ProductBlock,
) {
  const { rowCount } = inputs;
  block.slopes.set(estimates);
  block.score.fill(0);
  block.sums.fill(0);
  let deviance = 0;
  for (let start = 0; start < rowCount; start += blockRows) {
    const rows = Math.min(blockRows, rowCount - start);
    fillBlock(block, inputs, start, rows);
    block.combine();
    deviance += weigh(block, events, weights, start, rows);
    block.project();
    block.add();
  }
  return { score: block.score.slice(), information: block.sums, deviance };
}

function fillBlock(
  block: ProductBlock,
  { columns, means, factors }: Centred,
  start: number,
  rows: number,
) {
  for (let j = 0; j < columns.length; j++) {
    const room = block.columns[j + 1];
    const column = columns[j];
    const mean = means[j];
    const factor = factors[j];
    for (let i = 0; i < rows; i++) room[i] = (column[start + i] - mean) * factor;
    if (rows < blockRows) room.fill(0, rows);
  }
}

/** Logarithms are taken of products of so many probabilities. */
const together = 8;

/** Working weights and residuals of a block; gives its deviance. What is beyond its end gets 0. */
function weigh(
  { weights: working, residual, linear }: ProductBlock,
  events: ArrayLike<number>,
  weights: Float64Array | undefined,
  start: number,
  rows: number,
): number {
  let deviance = 0;
  let product = 1;
  let factors = 0;
  for (let i = 0; i < rows; i++) {
    const event = events[start + i];
    const weight = weights ? weights[start + i] : 1;
    // One exponential serves both the risk and the deviance; written so that neither loses digits.
    const x = linear[i];
    const e = Math.exp(x < 0 ? x : -x);
    const likelier = 1 / (1 + e);
    const risk = x >= 0 ? likelier : e * likelier;
    const wrongSide = event ? x < 0 : x > 0;
    residual[i] = weight * (event - risk);
    working[i] = weight * risk * (1 - risk);
    if (weights || e < 1e-12) {
      deviance += 2 * weight * (Math.log1p(e) + (wrongSide ? Math.abs(x) : 0));
      continue;
    }
    product *= wrongSide ? e * likelier : likelier;
    if (++factors === together) {
      deviance -= 2 * Math.log(product);
      product = 1;
      factors = 0;
    }
  }
  working.fill(0, rows);
  residual.fill(0, rows);
  return deviance - 2 * Math.log(product);
}
