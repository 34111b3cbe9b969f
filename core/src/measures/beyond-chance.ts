import { z95 } from '../numeric/index.ts';
import type { ErrorTable } from './error-table.ts';
import { wilsonInterval, type Interval } from './intervals.ts';
import type { Figure, Rates } from './rates.ts';

/** Figures of the whole error table that chance alone does not raise. */
export function beyondChance(
  table: ErrorTable,
): Pick<Rates, 'balancedAccuracy' | 'f1' | 'matthews' | 'youden' | 'diagnosticOddsRatio'> {
  const { found, missed, falseAlarms, rightlyLeft } = table;
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
    diagnosticOddsRatio: oddsRatio(found, missed, falseAlarms, rightlyLeft),
  };
}

/**
 * Sensitivity and specificity together. The interval squares and adds the reaches of both Wilson
 * intervals: method 10 of Newcombe (1998), Statistics in Medicine 17:873-890.
 */
function sumOfShares({ found, missed, falseAlarms, rightlyLeft }: ErrorTable): Figure {
  const [events, others] = [found + missed, falseAlarms + rightlyLeft];
  if (events === 0 || others === 0) return {};
  const shares = [found / events, rightlyLeft / others];
  const intervals = [wilsonInterval(found, events)!, wilsonInterval(rightlyLeft, others)!];
  const reach = (end: 0 | 1) => Math.hypot(...shares.map((share, i) => share - intervals[i][end]));
  const value = shares[0] + shares[1];
  return { value, interval: [value - reach(0), value + reach(1)] };
}

const moved = ({ value, interval }: Figure, by: (one: number) => number): Figure => ({
  ...(value !== undefined && { value: by(value) }),
  ...(interval && { interval: interval.map(by) as Interval }),
});

/**
 * A figure of the four shares with its large-sample interval: the delta method for one multinomial sample
 * (Agresti 2013, Categorical Data Analysis, 3rd ed., section 16.1).
 *
 * @param of found, missed, false alarms and rightly left, as shares of all
 */
function byDelta(
  { found, missed, falseAlarms, rightlyLeft }: ErrorTable,
  of: (shares: number[]) => number,
  [least, most]: Interval,
): Figure {
  const counts = [found, missed, falseAlarms, rightlyLeft];
  const all = counts.reduce((sum, one) => sum + one, 0);
  const shares = counts.map((one) => one / all);
  const value = of(shares);
  if (!Number.isFinite(value)) return {};
  const step = 1e-6;
  const slopes = shares.map((_, i) => {
    const at = (by: number) => of(shares.map((share, j) => (i === j ? share + by : share)));
    return shares[i] > step ? (at(step) - at(-step)) / (2 * step) : 0;
  });
  const mean = slopes.reduce((sum, slope, i) => sum + slope * shares[i], 0);
  const square = slopes.reduce((sum, slope, i) => sum + slope ** 2 * shares[i], 0);
  const reach = z95 * Math.sqrt(Math.max(0, square - mean ** 2) / all);
  if (!(reach > 0)) return { value };
  return { value, interval: [Math.max(least, value - reach), Math.min(most, value + reach)] };
}

/** Interval on the log scale: Woolf (1955), Annals of Human Genetics 19:251-253. */
function oddsRatio(a: number, b: number, c: number, d: number): Figure {
  const value = (a * d) / (b * c);
  if (!Number.isFinite(value)) return {};
  const reach = z95 * Math.sqrt(1 / a + 1 / b + 1 / c + 1 / d);
  if (!Number.isFinite(reach)) return { value };
  return { value, interval: [value * Math.exp(-reach), value * Math.exp(reach)] };
}
