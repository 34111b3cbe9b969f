import { z95 } from '../numeric/index.ts';
import { reachOf } from './clusters.ts';
import type { ErrorTable } from './error-table.ts';
import { wilsonInterval, type Interval } from './intervals.ts';
import type { Figure, Rates } from './rates.ts';
import { countsOf, varianceAlong } from './table-spread.ts';

/** Figures of the whole error table that chance alone does not raise. */
export function beyondChance(
  table: ErrorTable,
): Pick<Rates, 'balancedAccuracy' | 'f1' | 'matthews' | 'youden' | 'diagnosticOddsRatio'> {
  const both = sumOfShares(table);
  return {
    youden: moved(both, (sum) => sum - 1),
    balancedAccuracy: moved(both, (sum) => sum / 2),
    f1: byDelta(table, ([a, b, c]) => (2 * a) / (2 * a + b + c), [0, 1]),
    matthews: byDelta(
      table,
      ([a, b, c, d]) => (a * d - b * c) / Math.sqrt((a + b) * (a + c) * (b + d) * (c + d)),
      [-1, 1],
    ),
    diagnosticOddsRatio: oddsRatio(table),
  };
}

/**
 * Sensitivity and specificity together. The interval squares and adds the reaches of both Wilson
 * intervals: method 10 of Newcombe (1998), Statistics in Medicine 17:873-890. By cluster, the delta method.
 */
function sumOfShares(table: ErrorTable): Figure {
  const { found, missed, falseAlarms, rightlyLeft } = table;
  const [events, others] = [found + missed, falseAlarms + rightlyLeft];
  if (events === 0 || others === 0) return {};
  const shares = [found / events, rightlyLeft / others];
  const value = shares[0] + shares[1];
  if (table.spread) return byDelta(table, ([a, b, c, d]) => a / (a + b) + d / (c + d), [0, 2]);
  const intervals = [wilsonInterval(found, events)!, wilsonInterval(rightlyLeft, others)!];
  const reach = (end: 0 | 1) => Math.hypot(...shares.map((share, i) => share - intervals[i][end]));
  return { value, interval: [value - reach(0), value + reach(1)] };
}

const moved = ({ value, interval }: Figure, by: (one: number) => number): Figure => ({
  ...(value !== undefined && { value: by(value) }),
  ...(interval && { interval: interval.map(by) as Interval }),
});

/**
 * A figure of the four counts with its large-sample interval: the delta method (Agresti 2013, Categorical Data
 * Analysis, 3rd ed., section 16.1) for one multinomial sample, or with the covariance between clusters.
 *
 * @param of found, missed, false alarms and rightly left
 */
export function byDelta(
  table: ErrorTable,
  of: (counts: number[]) => number,
  [least, most]: Interval,
): Figure {
  const value = of(countsOf(table));
  if (!Number.isFinite(value)) return {};
  const reach = reachByDelta(table, of);
  if (!(reach > 0)) return { value };
  return { value, interval: [Math.max(least, value - reach), Math.min(most, value + reach)] };
}

/** Half the width of the 95% interval of a figure of the counts. */
export function reachByDelta(table: ErrorTable, of: (counts: number[]) => number): number {
  const counts = countsOf(table);
  const all = counts.reduce((sum, one) => sum + one, 0);
  const step = 1e-6 * all;
  const slopes = counts.map((count, i) => {
    const at = (by: number) => of(counts.map((one, j) => (i === j ? one + by : one)));
    return count > step ? (at(step) - at(-step)) / (2 * step) : 0;
  });
  const { spread } = table;
  const variance = varianceAlong(slopes, spread?.covariance ?? multinomial(counts, all));
  return reachOf(spread && { count: spread.clusters }) * Math.sqrt(variance);
}

/** Covariance of the counts of one multinomial sample. */
const multinomial = (counts: number[], all: number): number[] =>
  counts.flatMap((one, i) => counts.map((other, j) => (i === j ? one : 0) - (one * other) / all));

/** Interval on the log scale: Woolf (1955), Annals of Human Genetics 19:251-253; by cluster, the delta method there. */
function oddsRatio(table: ErrorTable): Figure {
  const [a, b, c, d] = countsOf(table);
  const value = (a * d) / (b * c);
  if (!Number.isFinite(value)) return {};
  const reach = table.spread
    ? reachByDelta(table, ([a, b, c, d]) => Math.log((a * d) / (b * c)))
    : z95 * Math.sqrt(1 / a + 1 / b + 1 / c + 1 / d);
  if (!Number.isFinite(reach)) return { value };
  return { value, interval: [value * Math.exp(-reach), value * Math.exp(reach)] };
}
