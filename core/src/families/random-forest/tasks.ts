import type { Outcome, OutcomeKind } from '../../outcome/index.ts';
import { levelTarget, numberTarget, type Leaf, type Target } from '../../trees/index.ts';
import type { FitContext } from '../family.ts';
import type { Settings } from '../settings.ts';

/** A forest as one kind of outcome makes it. */
export interface ForestAims {
  target: Target;
  leaf: Leaf;
  /** Values are 0 and 1. */
  isShare: boolean;
  /** What all patients have: share of cases, shares of levels, mean. */
  plain: Float64Array;
  /** Of one patient, if a leaf says this: Brier score, or squared error. */
  lossOf(row: number, said: ArrayLike<number>): number;
}

export const forestAims = (outcome: Outcome, settings: Settings, context: FitContext): ForestAims =>
  aims[outcome.kind](outcome as never, settings, context);

const aims: {
  [K in OutcomeKind]: (outcome: Outcome<K>, settings: Settings, context: FitContext) => ForestAims;
} = {
  /** Squared distances of 0 and 1 part two levels as the Gini impurity does, in half the work. */
  event({ values }, settings, context) {
    const { inSplits, inLeaves } = countedAs(values, 2, settings, context);
    const plain = sharesOf(values, 2, context.weights)[1];
    const drawn = Number(settings.drawn);
    const [no, yes] = [inLeaves[0] / inSplits[0], inLeaves[1] / inSplits[1]];
    return {
      target: numberTarget(
        Float64Array.from(values),
        Float64Array.from(values, (value, row) => inSplits[value] * weightOf(row, context)),
      ),
      leaf: {
        width: 1,
        valuesOf([weight, cases], to) {
          const [without, having] = [(weight - cases) * no, cases * yes];
          to[0] = (having + drawn * plain) / (without + having + drawn);
        },
      },
      isShare: true,
      plain: Float64Array.of(plain),
      lossOf: (row, said) => (values[row] - said[0]) ** 2,
    };
  },
  levels({ values, levels: { length } }, settings, context) {
    const { inSplits, inLeaves } = countedAs(values, length, settings, context);
    const plain = sharesOf(values, length, context.weights);
    const drawn = Number(settings.drawn);
    return {
      target: levelTarget(values, length, 'Gini', {
        weights: Float64Array.from(
          values,
          (level, row) => inLeaves[level] * weightOf(row, context),
        ),
        costs: inSplits.map((counted, level) => counted / inLeaves[level]),
      }),
      leaf: {
        width: length,
        valuesOf(sums, to) {
          let weight = drawn;
          for (let k = 0; k < length; k++) weight += sums[k];
          for (let k = 0; k < length; k++) to[k] = (sums[k] + drawn * plain[k]) / weight;
        },
      },
      isShare: false,
      plain,
      lossOf(row, said) {
        let loss = 0;
        for (let k = 0; k < length; k++) loss += (Number(values[row] === k) - said[k]) ** 2;
        return loss;
      },
    };
  },
  number({ values }, _settings, { weights }) {
    let [weight, sum] = [0, 0];
    for (let row = 0; row < values.length; row++) {
      const own = weights ? weights[row] : 1;
      weight += own;
      sum += own * values[row];
    }
    const mean = weight > 0 ? sum / weight : 0;
    const about = values.map((value) => value - mean);
    return {
      target: numberTarget(about, weights),
      leaf: {
        width: 1,
        valuesOf(sums, to) {
          to[0] = mean + sums[1] / sums[0];
        },
      },
      isShare: false,
      plain: Float64Array.of(mean),
      lossOf: (row, said) => (values[row] - said[0]) ** 2,
    };
  },
};

const weightOf = (row: number, { weights }: FitContext) => (weights ? weights[row] : 1);

/**
 * How much a drawn patient of each level counts: in splits by what an error in them costs, if wanted; in
 * the shares of a leaf by how many it stands for, which differs where samples are balanced.
 */
function countedAs(
  codes: ArrayLike<number>,
  levels: number,
  { costsInSplits, drawnBy }: Settings,
  { costs }: FitContext,
): { inSplits: number[]; inLeaves: number[] } {
  const counts = Array<number>(levels).fill(0);
  for (let row = 0; row < codes.length; row++) counts[codes[row]]++;
  const rarest = Math.min(...counts.filter((count) => count > 0));
  const inLeaves = counts.map((count) =>
    drawnBy === 'balanced' && count > 0 ? count / rarest : 1,
  );
  if (costsInSplits !== true || !costs) return { inSplits: counts.map(() => 1), inLeaves };
  const ofLevel = costs.map((row) => row.reduce((sum, one) => sum + one, 0));
  // So that they count as many patients in all as there are.
  const mean = counts.reduce((sum, count, k) => sum + count * ofLevel[k], 0) / codes.length;
  return {
    inSplits: ofLevel.map((cost) => (mean > 0 ? Math.max(cost / mean, 1e-6) : 1)),
    inLeaves,
  };
}

function sharesOf(codes: ArrayLike<number>, levels: number, weights?: Float64Array): Float64Array {
  const shares = new Float64Array(levels);
  let total = 0;
  for (let row = 0; row < codes.length; row++) {
    const weight = weights ? weights[row] : 1;
    shares[codes[row]] += weight;
    total += weight;
  }
  return shares.map((share) => (total > 0 ? share / total : 0));
}
