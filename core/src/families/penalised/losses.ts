import { exponentials, logLossBlock, lossRows } from '../../numeric/index.ts';
import type { Outcome, OutcomeKind } from '../../outcome/index.ts';

/** A loss of linear predictors, of which several levels have one each. */
export interface PathLoss {
  blocks: number;
  /** Constants that fit best without any input. */
  start: Float64Array;
  /**
   * Looks at the linear predictors of each block, by patient, and writes minus the derivative of the mean
   * loss in each, by the patient's weight; gives the mean loss.
   */
  look(linear: Float64Array[], slopes: Float64Array[]): number;
  /** Writes the second derivative in the linear predictors of two blocks, where one looked last. */
  bend(one: number, other: number, to: Float64Array): void;
  /** The second derivative is the same wherever one looks. */
  isSquared: boolean;
  /** What is no move of a linear predictor any more. */
  unit: number;
}

/** @param weights of patients, of which the sum is 1 */
export const pathLoss = (outcome: Outcome, weights: Float64Array): PathLoss =>
  losses[outcome.kind](outcome as never, weights);

const losses: { [K in OutcomeKind]: (outcome: Outcome<K>, weights: Float64Array) => PathLoss } = {
  event({ values }, weights) {
    const share = Math.min(1 - 1e-6, Math.max(1e-6, meanOf(values, weights)));
    const cases = Uint8Array.from(values);
    const block = logLossBlock();
    const bend = new Float64Array(values.length);
    const given = new Float64Array(values.length);
    const logs = meanLog(weights);
    return {
      blocks: 1,
      start: Float64Array.of(Math.log(share / (1 - share))),
      isSquared: false,
      unit: 1,
      bend: (_one, _other, to) => to.set(bend),
      look([linear], [slope]) {
        for (let from = 0; from < linear.length; from += lossRows) {
          const to = Math.min(from + lossRows, linear.length);
          block.scores.set(linear.subarray(from, to));
          block.cases.set(cases.subarray(from, to));
          block.weights.set(weights.subarray(from, to));
          block.slopes(to - from, unrounded);
          for (let i = from, at = 0; i < to; i++, at += 2) {
            bend[i] = block.pairs[at];
            slope[i] = -block.pairs[at + 1];
          }
          given.set(block.scores.subarray(0, to - from), from);
        }
        return logs(given);
      },
    };
  },

  levels({ values, levels: { length } }, weights) {
    const plain = Float64Array.from({ length }, (_, level) =>
      meanOf(
        values.map((value) => Number(value === level)),
        weights,
      ),
    );
    const starts = plain.map((share) => Math.log(Math.max(share, 1e-12)));
    const middle = starts.reduce((sum, one) => sum + one, 0) / length;
    const shares = Array.from({ length }, () => new Float64Array(values.length));
    const logs = meanLog(weights);
    return {
      blocks: length,
      start: starts.map((one) => one - middle),
      isSquared: false,
      unit: 1,
      look(linear, slopes) {
        const greatest = linear[0].slice();
        for (const own of linear)
          for (let i = 0; i < own.length; i++) if (own[i] > greatest[i]) greatest[i] = own[i];
        const totals = new Float64Array(values.length);
        shares.forEach((own, k) => {
          const from = linear[k];
          for (let i = 0; i < own.length; i++) own[i] = from[i] - greatest[i];
          exponentials(own);
          for (let i = 0; i < own.length; i++) totals[i] += own[i];
        });
        for (let i = 0; i < totals.length; i++) totals[i] = 1 / totals[i];
        shares.forEach((own, k) => {
          const slope = slopes[k];
          for (let i = 0; i < own.length; i++) {
            own[i] *= totals[i];
            slope[i] = -weights[i] * own[i];
          }
        });
        for (let i = 0; i < values.length; i++) {
          const level = values[i];
          totals[i] = shares[level][i];
          slopes[level][i] += weights[i];
        }
        return logs(totals);
      },
      bend(one, other, to) {
        const [a, b] = [shares[one], shares[other]];
        if (one === other)
          for (let i = 0; i < to.length; i++)
            to[i] = weights[i] * Math.max(a[i] * (1 - a[i]), leastBend);
        else for (let i = 0; i < to.length; i++) to[i] = -weights[i] * a[i] * b[i];
      },
    };
  },

  number({ values }, weights) {
    const mean = meanOf(values, weights);
    let variance = 0;
    for (let i = 0; i < values.length; i++) variance += weights[i] * (values[i] - mean) ** 2;
    return {
      blocks: 1,
      start: Float64Array.of(mean),
      isSquared: true,
      unit: Math.sqrt(variance),
      bend: (_one, _other, to) => to.set(weights),
      look([linear], [slope]) {
        let loss = 0;
        for (let i = 0; i < linear.length; i++) {
          const away = values[i] - linear[i];
          loss += (weights[i] * away * away) / 2;
          slope[i] = weights[i] * away;
        }
        return loss;
      },
    };
  },
};

/** So that a patient of a risk of 0 or 1 still holds the steps back a little. */
const leastBend = 1e-9;
const unrounded = { big: 0, least: 0 };

/** Mean of -log of shares; where weights are alike, logarithms are taken of many shares together. */
function meanLog(weights: Float64Array): (given: Float64Array) => number {
  const block = logLossBlock();
  const areAlike = weights.every((weight) => weight === weights[0]);
  return (given) => {
    let loss = 0;
    for (let from = 0; from < given.length; from += lossRows) {
      const to = Math.min(from + lossRows, given.length);
      if (areAlike) {
        block.scores.set(given.subarray(from, to));
        block.multiply(to - from);
      } else
        for (let i = from; i < to; i++) loss -= weights[i] * Math.log(Math.max(given[i], 1e-100));
    }
    return areAlike ? -weights[0] * block.logs()[0] : loss;
  };
}

function meanOf(values: ArrayLike<number>, weights: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += weights[i] * values[i];
  return sum;
}
