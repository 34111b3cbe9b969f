import { exponentials } from '../../numeric/index.ts';
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

/** Patients who are looked at together, whose numbers stay in near caches. */
const blockRows = 2048;

function logisticLoss(values: ArrayLike<number>, learners: Learners): BoostLoss {
  const { weights } = learners;
  const count = values.length;
  const share = bounded(meanOfLearners(count, (row) => values[row], learners));
  const { big, least } = roundingFor(count, greatest(weights));
  const scores = new Float64Array(count);
  const some = new Float64Array(blockRows);
  return {
    groups: 1,
    start: Float64Array.of(Math.log(share / (1 - share))),
    scores,
    look(pairs) {
      const logs = new LogMeans(learners);
      for (let from = 0; from < count; from += blockRows) {
        const rows = Math.min(blockRows, count - from);
        for (let i = 0; i < rows; i++) some[i] = -scores[from + i];
        exponentials(some);
        for (let i = 0; i < rows; i++) {
          const row = from + i;
          const risk = 1 / (1 + some[i]);
          const isCase = values[row];
          some[i] = isCase === 1 ? risk : 1 - risk;
          const weight = weights ? weights[row] : 1;
          const second = weight * risk * (1 - risk) + big - big;
          pairs[2 * row] = second < least ? least : second;
          pairs[2 * row + 1] = weight * (risk - isCase) + big - big;
        }
        logs.add(some, from, rows);
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
  const given = new Float64Array(blockRows);
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
      const logs = new LogMeans(learners);
      for (let begin = 0; begin < shares.length; begin += levels) {
        let most = -Infinity;
        for (let k = begin; k < begin + levels; k++) most = Math.max(most, scores[k]);
        for (let k = begin; k < begin + levels; k++) shares[k] = scores[k] - most;
      }
      exponentials(shares);
      for (let from = 0; from < count; from += blockRows) {
        const rows = Math.min(blockRows, count - from);
        for (let i = 0; i < rows; i++) {
          const begin = (from + i) * levels;
          let total = 0;
          for (let k = begin; k < begin + levels; k++) total += shares[k];
          for (let k = begin; k < begin + levels; k++) shares[k] /= total;
          given[i] = shares[begin + codes[from + i]];
        }
        logs.add(given, from, rows);
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
function roundingFor(count: number, most: number): { big: number; least: number } {
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

/** Means of -log of the share that what happened was given. One logarithm serves many patients. */
class LogMeans {
  private readonly sums = [0, 0];
  private readonly weight = [0, 0];

  constructor(private readonly learners: Learners) {}

  /** @param given shares of patients from one on */
  add(given: Float64Array, from: number, count: number): void {
    const { weights, watched } = this.learners;
    if (weights) {
      for (let i = 0; i < count; i++) {
        const side = watched ? watched[from + i] : 0;
        this.weight[side] += weights[from + i];
        this.sums[side] -= weights[from + i] * Math.log(Math.max(given[i], leastLogged));
      }
      return;
    }
    let [learned, seen] = [1, 1];
    let seenCount = 0;
    for (let i = 0; i < count; i++) {
      const share = given[i] < leastLogged ? leastLogged : given[i];
      if (watched && watched[from + i] === 1) {
        seenCount++;
        seen *= share;
        if (seen < leastLogged) {
          this.sums[1] -= Math.log(seen);
          seen = 1;
        }
      } else {
        learned *= share;
        if (learned < leastLogged) {
          this.sums[0] -= Math.log(learned);
          learned = 1;
        }
      }
    }
    this.sums[0] -= Math.log(learned);
    this.sums[1] -= Math.log(seen);
    this.weight[0] += count - seenCount;
    this.weight[1] += seenCount;
  }

  means(): MeanLoss {
    const of = (side: number) => (this.weight[side] > 0 ? this.sums[side] / this.weight[side] : 0);
    return { learned: of(0), watched: of(1) };
  }
}

const bounded = (share: number) => Math.min(1 - leastShare, Math.max(leastShare, share));
