import { fUpperTail, z95 } from '../../numeric/index.ts';
import {
  reachOf,
  takeClusters,
  variationBetween,
  type Clusters,
  type Interval,
} from '../../measures/index.ts';
import { gradesOfColumn, ranksOfGrades, type Measured } from '../associate/index.ts';
import type { Outcome } from './outcome.ts';

/** A column as scores: ranks of a number, or one indicator for each level, with the weight of each. */
interface Scores {
  /** Score of a row in each; NaN where it is missing. */
  of: ((row: number) => number)[];
  weights: number[];
}

/** What a relation's interval is symmetric on. */
const scales = {
  plain: { to: (x: number) => x, back: (x: number) => x },
  ratio: { to: Math.log, back: Math.exp },
  correlation: { to: Math.atanh, back: Math.tanh },
  share: { to: (x: number) => Math.log(x / (1 - x)), back: (x: number) => 1 / (1 + Math.exp(-x)) },
};

/** How rows of one patient or group change tests and intervals that treat rows as independent. */
export interface DesignEffect {
  /** p of a statistic that has a chi-square distribution where rows are independent. */
  p(chiSquare: number, degrees: number): number;
  interval(
    around: number,
    interval: Interval | undefined,
    scale: keyof typeof scales,
  ): Interval | undefined;
}

/**
 * The design effect of one relation: by how much the variance of the products of both columns' scores grows when
 * they are summed by cluster. The statistic is divided by it and judged by F with d and d (k − 1) degrees of freedom
 * (Rao & Scott 1981, JASA 76:221-230, first-order correction); intervals are widened by its root and Student's t.
 * With one cluster there is neither p nor interval.
 *
 * @example one row a cluster gives a design effect of about 1
 */
export function designEffect(
  measured: Measured,
  outcome: Outcome,
  clusters: Clusters,
): DesignEffect {
  const [mine, other] = [scoresOf(measured), outcomeScores(outcome)];
  const rows = clusters.codes.length;
  const known: number[] = [];
  for (let row = 0; row < rows; row++)
    if (!Number.isNaN(mine.of[0](row)) && !Number.isNaN(other.of[0](row))) known.push(row);
  // Without a repeated cluster each row is one.
  const own = takeClusters(clusters, known) ?? {
    codes: Int32Array.from(known.keys()),
    count: known.length,
  };
  const { count } = own;
  if (count < 2) return { p: () => NaN, interval: () => undefined };
  const centred = ({ of }: Scores) => of.map((score) => fromMean(known, score));
  const [ours, theirs] = [centred(mine), centred(other)];
  let [effects, weights] = [0, 0];
  ours.forEach((x, i) =>
    theirs.forEach((y, j) => {
      const weight = mine.weights[i] * other.weights[j];
      const products = x.map((one, at) => one * y[at]);
      const mean = products.reduce((sum, one) => sum + one, 0) / products.length;
      let squares = 0;
      for (let at = 0; at < products.length; at++) squares += (products[at] -= mean) ** 2;
      if (!(squares > 0) || !(weight > 0)) return;
      effects += (weight * variationBetween(products, own)) / squares;
      weights += weight;
    }),
  );
  // Where products do not vary, rows are taken for what they are.
  const effect = weights > 0 ? effects / weights : 1;
  const wider = Math.sqrt(effect) * (reachOf(own) / z95);
  return {
    p: (chiSquare, degrees) =>
      fUpperTail(chiSquare / effect / degrees, degrees, degrees * (count - 1)),
    interval: (around, interval, scale) => {
      const { to, back } = scales[scale];
      const moved = interval?.map((end) => back(to(around) + wider * (to(end) - to(around))));
      return moved?.every(Number.isFinite) ? (moved as Interval) : undefined;
    },
  };
}

function scoresOf(measured: Measured): Scores {
  const { column, kind } = measured;
  if (column.type === 'coded' && kind !== 'ordered category')
    return levelScores(column.codes, column.levels.length);
  return rankScores(gradesOfColumn(measured));
}

function outcomeScores(outcome: Outcome): Scores {
  if (outcome.shape === 'number') return rankScores(outcome.grades);
  return outcome.shape === 'event'
    ? levelScores(outcome.events, 2)
    : levelScores(outcome.codes, outcome.levels);
}

function rankScores({ codes, counts }: ReturnType<typeof gradesOfColumn>): Scores {
  const ranks = ranksOfGrades(counts);
  return { of: [(row) => (codes[row] < 0 ? NaN : ranks[codes[row]])], weights: [1] };
}

/** Two levels are one indicator; of more, each counts by the share of the others. */
function levelScores(codes: ArrayLike<number>, levels: number): Scores {
  const counts = new Float64Array(levels);
  let total = 0;
  for (let row = 0; row < codes.length; row++)
    if (codes[row] >= 0) {
      counts[codes[row]]++;
      total++;
    }
  const wanted = levels === 2 ? [1] : Array.from(counts.keys()).filter((one) => counts[one] > 0);
  return {
    of: wanted.map(
      (level) => (row: number) => (codes[row] < 0 ? NaN : Number(codes[row] === level)),
    ),
    weights: wanted.map((level) => 1 - counts[level] / total),
  };
}

function fromMean(rows: number[], score: (row: number) => number): Float64Array {
  const values = Float64Array.from(rows, score);
  const mean = values.reduce((sum, one) => sum + one, 0) / values.length;
  return values.map((one) => one - mean);
}
