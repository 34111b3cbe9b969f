import type { ErrorCosts } from './costs.ts';
import type { ErrorTable } from './error-table.ts';
import type { Interval } from './intervals.ts';
import { errorShares, type Figure } from './rates.ts';

/**
 * Cost of the errors per 1,000 patients with its 95% interval: the reaches of the Wilson intervals of missed
 * cases and of false alarms, weighted by their costs, are squared and added (Zou & Donner 2008, Statistics in
 * Medicine 27:1693-1702; from memory), with the correlation of two shares of one multinomial sample. A
 * symmetric interval is too short where few errors cost much.
 *
 * @param table of patients; its spread makes the interval one by cluster
 * @example 2 missed at cost 8 and 10 false alarms at cost 1 among 100: 260 per 1,000
 */
export function costFigure(table: ErrorTable, { missedCost, falseAlarmCost }: ErrorCosts): Figure {
  const { missed, falseAlarms } = errorShares(table);
  if (missed.value === undefined || falseAlarms.value === undefined) return {};
  const weights = [1000 * missedCost, 1000 * falseAlarmCost];
  const [p, q] = [missed.value, falseAlarms.value];
  const value = weights[0] * p + weights[1] * q;
  const correlation = correlationOf(table, p, q);
  const reach = (end: 0 | 1): number => {
    const a = weights[0] * Math.abs(p - missed.interval![end]);
    const b = weights[1] * Math.abs(q - falseAlarms.interval![end]);
    return Math.sqrt(Math.max(0, a * a + b * b + 2 * correlation * a * b));
  };
  const interval: Interval = [Math.max(0, value - reach(0)), value + reach(1)];
  return { value, ...(interval[1] > interval[0] && { interval }) };
}

/** Of the shares of missed cases and of false alarms. */
function correlationOf({ spread }: ErrorTable, missed: number, falseAlarms: number): number {
  if (!spread)
    return missed === 1 || falseAlarms === 1
      ? 0
      : -Math.sqrt((missed * falseAlarms) / ((1 - missed) * (1 - falseAlarms)));
  const { covariance } = spread;
  const scale = Math.sqrt(covariance[5] * covariance[10]);
  return scale > 0 ? covariance[6] / scale : 0;
}
