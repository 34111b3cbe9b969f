import { blockRows, type ProductBlock } from '../../numeric/index.ts';
import { type Centred, fillBlock } from '../shared/index.ts';

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
