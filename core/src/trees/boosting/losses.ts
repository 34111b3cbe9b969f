import { exponentials, logLossBlock, lossRows, type Rounding } from '../../numeric/index.ts';
import type { Outcome, OutcomeKind } from '../../outcome/index.ts';

/** What boosting lowers, by its first and second derivative in each patient's score. */
export interface BoostLoss {
  /** Scores of a patient: one for each level, else one. */
  groups: number;
  /** The scores that fit all patients best, from which trees begin. */
  start: Float64Array;
  /** Patients × groups, to which trees add. */
  scores: Float64Array;
  /**
   * Takes the scores as they are now, and writes second and first derivative of each patient in turn,
   * those of the first group.
   */
  look(pairs: Float64Array): MeanLoss;
  /** Writes those of another group, at the scores that were looked at. */
  derivatives(group: number, pairs: Float64Array): void;
}

/** Weighted means: log loss, or squared error. */
export interface MeanLoss {
  learned: number;
  /** Of those that nothing is learned from; 0 where there are none. */
  watched: number;
}

/** Whom trees are learned from, and how much each counts. */
export interface Learners {
  /** 1 for patients whose loss is watched and from whom nothing is learned. */
  watched?: Uint8Array;
  weights?: Float64Array;
}

/** The loss of an outcome known in every patient. */
export const boostLoss = (outcome: Outcome, learners: Learners) =>
  losses[outcome.kind](outcome as never, learners);

const losses: {
  [K in OutcomeKind]: (outcome: Outcome<K>, learners: Learners) => BoostLoss;
} = {
  event: ({ values }, learners) => logisticLoss(values, learners),
  levels: ({ values, levels }, learners) => softmaxLoss(values, levels.length, learners),
  number: ({ values }, learners) => squaredLoss(values, learners),
};

/** A share is kept this far from 0 and 1 where a score begins from it. */
const leastShare = 1e-6;

function logisticLoss(values: ArrayLike<number>, learners: Learners): BoostLoss {
  const { weights } = learners;
  const count = values.length;
  const share = bounded(meanOfLearners(count, (row) => values[row], learners));
  const rounding = roundingFor(count, greatest(weights));
  const cases = Uint8Array.from(values);
  const scores = new Float64Array(count);
  const logs = new LogMeans(count, learners);
  const { block } = logs;
  return {
    groups: 1,
    start: Float64Array.of(Math.log(share / (1 - share))),
    scores,
    look(pairs) {
      for (let from = 0; from < count; from += lossRows) {
        const to = Math.min(from + lossRows, count);
        block.scores.set(scores.subarray(from, to));
        block.cases.set(cases.subarray(from, to));
        if (weights) block.weights.set(weights.subarray(from, to));
        block.slopes(to - from, rounding);
        pairs.set(block.pairs.subarray(0, 2 * (to - from)), 2 * from);
        logs.add(from, to);
      }
      return logs.means();
    },
    derivatives: () => undefined,
  };
}

/** One tree a level and round, all from the shares at the start of the round. */
function softmaxLoss(codes: ArrayLike<number>, levels: number, learners: Learners): BoostLoss {
  const { weights } = learners;
  const count = codes.length;
  const { big, least } = roundingFor(count, greatest(weights));
  const scores = new Float64Array(count * levels);
  const shares = new Float64Array(count * levels);
  const logs = new LogMeans(count, learners);
  const derivatives = (group: number, pairs: Float64Array) => {
    for (let row = 0; row < count; row++) {
      const share = shares[row * levels + group];
      const weight = weights ? weights[row] : 1;
      // Twice the second derivative, as is common practice: it allows for the other levels' trees.
      const second = 2 * weight * share * (1 - share) + big - big;
      pairs[2 * row] = second < least ? least : second;
      pairs[2 * row + 1] = weight * (share - Number(codes[row] === group)) + big - big;
    }
  };
  return {
    groups: levels,
    start: Float64Array.from({ length: levels }, (_, level) =>
      Math.log(bounded(meanOfLearners(count, (row) => Number(codes[row] === level), learners))),
    ),
    scores,
    look(pairs) {
      for (let begin = 0; begin < shares.length; begin += levels) {
        let most = -Infinity;
        for (let k = begin; k < begin + levels; k++) most = Math.max(most, scores[k]);
        for (let k = begin; k < begin + levels; k++) shares[k] = scores[k] - most;
      }
      exponentials(shares);
      for (let from = 0; from < count; from += lossRows) {
        const to = Math.min(from + lossRows, count);
        for (let row = from; row < to; row++) {
          const begin = row * levels;
          let total = 0;
          for (let k = begin; k < begin + levels; k++) total += shares[k];
          for (let k = begin; k < begin + levels; k++) shares[k] /= total;
          logs.block.scores[row - from] = shares[begin + codes[row]];
        }
        logs.add(from, to);
      }
      derivatives(0, pairs);
      return logs.means();
    },
    derivatives,
  };
}

function squaredLoss(values: ArrayLike<number>, learners: Learners): BoostLoss {
  const { weights, watched } = learners;
  const count = values.length;
  const others = watched && { weights, watched: watched.map((one) => 1 - one) };
  const forWeights = roundingFor(count, greatest(weights));
  const scores = new Float64Array(count);
  return {
    groups: 1,
    start: Float64Array.of(meanOfLearners(count, (row) => values[row], learners)),
    scores,
    look(pairs) {
      let most = 0;
      for (let row = 0; row < count; row++) {
        const distance = Math.abs(scores[row] - values[row]) * (weights ? weights[row] : 1);
        if (distance > most) most = distance;
      }
      const { big } = roundingFor(count, most);
      for (let row = 0; row < count; row++) {
        const weight = weights ? weights[row] : 1;
        pairs[2 * row] = Math.max(weight + forWeights.big - forWeights.big, forWeights.least);
        pairs[2 * row + 1] = weight * (scores[row] - values[row]) + big - big;
      }
      const squares = (row: number) => (scores[row] - values[row]) ** 2;
      return {
        learned: meanOfLearners(count, squares, learners),
        watched: others ? meanOfLearners(count, squares, others) : 0,
      };
    },
    derivatives: () => undefined,
  };
}

/**
 * Numbers up to `most` are rounded to whole multiples of `least`, so fine that sums of `count` of them are
 * still exact, and thus the same in any order and by any subtraction. Adding and taking away `big` rounds.
 */
function roundingFor(count: number, most: number): Rounding {
  const least = 2 ** (Math.ceil(Math.log2(Math.max(most, 1e-300) * Math.max(count, 1))) - 52);
  return { big: 1.5 * 2 ** 52 * least, least };
}

function greatest(weights?: Float64Array): number {
  let most = 0;
  for (const weight of weights ?? []) if (weight > most) most = weight;
  return weights ? most : 1;
}

function meanOfLearners(
  count: number,
  valueOf: (row: number) => number,
  { weights, watched }: Learners,
): number {
  let [weight, sum] = [0, 0];
  for (let row = 0; row < count; row++) {
    if (watched?.[row] === 1) continue;
    const own = weights ? weights[row] : 1;
    weight += own;
    sum += own * valueOf(row);
  }
  return weight > 0 ? sum / weight : 0;
}

/** Shares below count as this, so that one patient's loss stays a number. */
const leastLogged = 1e-100;

/** Means of -log of the share that what happened was given. */
class LogMeans {
  /** In whose `scores` the shares stand when they are added. */
  readonly block = logLossBlock();
  private readonly weight = [0, 0];
  private readonly sums = [0, 0];

  constructor(
    count: number,
    private readonly learners: Learners,
  ) {
    const { weights, watched } = learners;
    for (let row = 0; row < count; row++)
      this.weight[watched ? watched[row] : 0] += weights ? weights[row] : 1;
  }

  /** Adds those of some patients, one after the other. */
  add(from: number, to: number): void {
    const { block, sums } = this;
    const { weights, watched } = this.learners;
    if (watched) block.watched.set(watched.subarray(from, to));
    if (!weights) {
      block.multiply(to - from);
      return;
    }
    for (let i = 0; i < to - from; i++)
      sums[block.watched[i]] +=
        weights[from + i] * Math.log(Math.max(block.scores[i], leastLogged));
  }

  /** Of what was added since the last time. */
  means(): MeanLoss {
    const logs = this.learners.weights ? this.sums : this.block.logs();
    const [learned, watched] = logs.map((sum, side) =>
      this.weight[side] > 0 ? -sum / this.weight[side] : 0,
    );
    this.sums.fill(0);
    return { learned, watched };
  }
}

const bounded = (share: number) => Math.min(1 - leastShare, Math.max(leastShare, share));
