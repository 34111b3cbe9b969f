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
  /**
   * How many patients a drawn one of each level stands for, where samples are balanced: what trees say on
   * average is brought back by it.
   */
  standsFor?: number[];
  /** Of one patient, if the forest says this: Brier score, or squared error. */
  lossOf(row: number, said: ArrayLike<number>): number;
}

export const forestAims = (outcome: Outcome, settings: Settings, context: FitContext): ForestAims =>
  aims[outcome.kind](outcome as never, settings, context);

const aims: {
  [K in OutcomeKind]: (outcome: Outcome<K>, settings: Settings, context: FitContext) => ForestAims;
} = {
  /** Squared distances of 0 and 1 part two levels as the Gini impurity does, in half the work. */
  event({ values }, settings, context) {
    const counted = countedAs(values, 2, settings, context);
    const standsFor = stoodFor(values, 2, settings);
    const plain = sharesOf(values, 2, context.weights)[1];
    const usual = standsFor ? 0.5 : plain;
    const drawn = Number(settings.drawn);
    return {
      target: numberTarget(
        Float64Array.from(values),
        Float64Array.from(values, (value, row) => counted[value] * weightOf(row, context)),
      ),
      leaf: {
        width: 1,
        valuesOf([weight, cases], to) {
          const [without, having] = [(weight - cases) / counted[0], cases / counted[1]];
          to[0] = (having + drawn * usual) / (without + having + drawn);
        },
      },
      isShare: true,
      plain: Float64Array.of(plain),
      ...(standsFor && { standsFor }),
      lossOf: (row, said) => (values[row] - said[0]) ** 2,
    };
  },
  levels({ values, levels: { length } }, settings, context) {
    const standsFor = stoodFor(values, length, settings);
    const plain = sharesOf(values, length, context.weights);
    const there = plain.filter((share) => share > 0).length;
    const usual = standsFor ? plain.map((share) => (share > 0 ? 1 / there : 0)) : plain;
    const drawn = Number(settings.drawn);
    return {
      target: levelTarget(values, length, 'Gini', {
        weights: context.weights,
        costs: countedAs(values, length, settings, context),
      }),
      leaf: {
        width: length,
        valuesOf(sums, to) {
          let weight = drawn;
          for (let k = 0; k < length; k++) weight += sums[k];
          for (let k = 0; k < length; k++) to[k] = (sums[k] + drawn * usual[k]) / weight;
        },
      },
      isShare: false,
      plain,
      ...(standsFor && { standsFor }),
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

/** How much a patient of each level counts in splits: by what an error in them costs, if wanted. */
function countedAs(
  codes: ArrayLike<number>,
  levels: number,
  { costsInSplits }: Settings,
  { costs }: FitContext,
): number[] {
  if (costsInSplits !== true || !costs) return Array<number>(levels).fill(1);
  const ofLevel = costs.map((row) => row.reduce((sum, one) => sum + one, 0));
  let total = 0;
  for (let row = 0; row < codes.length; row++) total += ofLevel[codes[row]];
  // So that they count as many patients in all as there are.
  const mean = total / codes.length;
  return ofLevel.map((cost) => (mean > 0 ? Math.max(cost / mean, 1e-6) : 1));
}

/** How many patients one of a balanced sample stands for; undefined where it is not balanced. */
function stoodFor(
  codes: ArrayLike<number>,
  levels: number,
  { drawnBy }: Settings,
): number[] | undefined {
  if (drawnBy !== 'balanced') return undefined;
  const counts = Array<number>(levels).fill(0);
  for (let row = 0; row < codes.length; row++) counts[codes[row]]++;
  const rarest = Math.min(...counts.filter((count) => count > 0));
  return counts.map((count) => count / rarest);
}

/**
 * Brings back what trees say on average of patients of whom one stands for many. It is done once for the
 * average: what small leaves say is uncertain, and bringing that back one by one would raise rare risks.
 *
 * @param said patients × width, row-major: shares of levels, or of yes alone
 */
export function bringBack(said: Float64Array, width: number, standsFor: number[]): void {
  if (width === 1) {
    const [no, yes] = standsFor;
    for (let row = 0; row < said.length; row++) {
      const cases = said[row] * yes;
      said[row] = cases / (cases + (1 - said[row]) * no);
    }
    return;
  }
  for (let begin = 0; begin < said.length; begin += width) {
    let total = 0;
    for (let k = 0; k < width; k++) total += said[begin + k] *= standsFor[k];
    for (let k = 0; k < width; k++) said[begin + k] /= total;
  }
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
