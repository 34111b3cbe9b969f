import { blockRows, logistic, softplus, type ProductBlock } from '../../numeric/index.ts';
import { type Centred, fillBlock, type State } from '../shared/index.ts';

/** What the likelihood is a function of, besides the estimates. */
export interface Graded {
  inputs: Centred;
  /** Step of each patient, from 0 to `thresholds`. */
  steps: Int32Array;
  thresholds: number;
  weights?: Float64Array;
}

/** One patient's place between two thresholds: F of the upper and the lower, and what lies between. */
export interface Place {
  upper: number;
  lower: number;
  /** 1 / (e^(distance of the thresholds) - 1); 0 at the ends. */
  gap: number;
  logShare: number;
}

/** logit P(step <= k) = threshold k - linear; undefined where the thresholds are out of order. */
export function placeOf(
  thresholds: ArrayLike<number>,
  step: number,
  linear: number,
): Place | undefined {
  const a = step < thresholds.length ? thresholds[step] - linear : Infinity;
  const b = step > 0 ? thresholds[step - 1] - linear : -Infinity;
  const between = a - b;
  if (!(between > 0)) return undefined;
  // log(F(a) - F(b)) = log F(a) + log(1 - F(b)) + log(1 - e^-(a-b)): no digit is lost at the ends.
  const ends = (a < Infinity ? -softplus(-a) : 0) - (b > -Infinity ? softplus(b) : 0);
  const inner = between < Infinity ? Math.log(-Math.expm1(-between)) : 0;
  return {
    upper: a < Infinity ? logistic(a) : 1,
    lower: b > -Infinity ? logistic(b) : 0,
    gap: between < Infinity ? 1 / Math.expm1(between) : 0,
    logShare: ends + inner,
  };
}

/**
 * Score, observed information and deviance of the proportional odds model (McCullagh 1980, JRSS B
 * 42:109-142). Thresholds first, then slopes; a positive slope moves towards the higher levels.
 */
export function scoreAndInformation(
  { inputs, steps, thresholds: count, weights }: Graded,
  estimates: Float64Array,
  block: ProductBlock,
): State {
  const inputCount = inputs.columns.length;
  const size = count + inputCount;
  const thresholds = estimates.subarray(0, count);
  const score = new Float64Array(size);
  const information = new Float64Array(size * size);
  const densities = Array.from({ length: count }, () => new Float64Array(blockRows));
  const slopeScore = new Float64Array(inputCount + 1);
  const slopeSums = new Float64Array((inputCount + 1) ** 2);
  let deviance = 0;
  block.slopes[0] = 0;
  for (let j = 0; j < inputCount; j++) block.slopes[j + 1] = estimates[count + j];
  for (let start = 0; start < inputs.rowCount; start += blockRows) {
    const rows = Math.min(blockRows, inputs.rowCount - start);
    fillBlock(block, inputs, start, rows);
    block.combine();
    for (const values of densities) values.fill(0);
    for (let i = 0; i < rows; i++) {
      const weight = weights ? weights[start + i] : 1;
      const step = steps[start + i];
      const place = placeOf(thresholds, step, block.linear[i]);
      if (!place) return { score, information, deviance: Infinity };
      const { upper, lower, gap, logShare } = place;
      const upperDensity = upper * (1 - upper);
      const lowerDensity = lower * (1 - lower);
      const inner = gap * (1 + gap);
      deviance -= 2 * weight * logShare;
      block.residual[i] = weight * (upper + lower - 1);
      block.weights[i] = weight * (upperDensity + lowerDensity);
      if (step < count) {
        score[step] += weight * (1 - upper + gap);
        information[step * size + step] += weight * (upperDensity + inner);
        densities[step][i] += weight * upperDensity;
      }
      if (step > 0) {
        const below = step - 1;
        score[below] -= weight * (lower + gap);
        information[below * size + below] += weight * (lowerDensity + inner);
        densities[below][i] += weight * lowerDensity;
        if (step < count) information[step * size + below] -= weight * inner;
      }
    }
    block.residual.fill(0, rows);
    block.weights.fill(0, rows);
    block.score.set(slopeScore);
    block.project();
    slopeScore.set(block.score.subarray(0, inputCount + 1));
    block.sums.set(slopeSums);
    block.add();
    slopeSums.set(block.sums);
    densities.forEach((values, k) => {
      block.residual.set(values);
      block.score.fill(0);
      block.project();
      for (let j = 0; j < inputCount; j++)
        information[(count + j) * size + k] -= block.score[j + 1];
    });
  }
  for (let j = 0; j < inputCount; j++) {
    score[count + j] = slopeScore[j + 1];
    for (let k = 0; k <= j; k++)
      information[(count + j) * size + count + k] = slopeSums[(j + 1) * (inputCount + 1) + k + 1];
  }
  return { score, information, deviance };
}
