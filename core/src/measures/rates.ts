import type { ErrorTable } from './error-table.ts';
import { ratioInterval, wilsonInterval, type Interval } from './intervals.ts';
import { beyondChance, reachByDelta } from './beyond-chance.ts';
import { cohenKappa } from './kappa.ts';
import { countsOf, effectiveTotal, varianceAlong, type TableSpread } from './table-spread.ts';

/** A proportion with its fraction and 95% Wilson interval; value undefined when `total` is 0. */
export interface Rate {
  value?: number;
  count: number;
  total: number;
  interval?: Interval;
}

/** A number that is no proportion; undefined where it cannot be computed. */
export interface Figure {
  value?: number;
  interval?: Interval;
}

export interface Rates {
  sensitivity: Rate;
  specificity: Rate;
  positivePredictiveValue: Rate;
  negativePredictiveValue: Rate;
  accuracy: Rate;
  /** Accuracy of calling nobody in, or everybody, whichever is right more often. */
  majorityBaseline: Rate;
  calledIn: Rate;
  positiveLikelihoodRatio: Figure;
  negativeLikelihoodRatio: Figure;
  kappa: Figure;
  falsePositiveRate: Rate;
  falseNegativeRate: Rate;
  /** Mean of sensitivity and specificity. */
  balancedAccuracy: Figure;
  /** Harmonic mean of sensitivity and positive predictive value. */
  f1: Figure;
  /** Correlation of call and outcome. */
  matthews: Figure;
  /** Sensitivity and specificity, less 1. */
  youden: Figure;
  diagnosticOddsRatio: Figure;
}

/**
 * The rates of an error table. Altman & Bland (1994), BMJ 308:1552, 309:102; Deeks & Altman (2004), BMJ 329:168.
 * Where the table has a spread, intervals are by cluster: Wilson's with the effective number of patients, others
 * by the delta method.
 *
 * @example of 10 cases 8 found, of 90 others 9 called in: sensitivity 0.80 (8 of 10), specificity 0.90 (81 of 90)
 */
export function ratesOf(table: ErrorTable): Rates {
  const { found, missed, falseAlarms, rightlyLeft } = table;
  const events = found + missed;
  const others = falseAlarms + rightlyLeft;
  return {
    sensitivity: shareOf(table, [1, 0, 0, 0], [1, 1, 0, 0], 'events'),
    specificity: shareOf(table, [0, 0, 0, 1], [0, 0, 1, 1], 'others'),
    positivePredictiveValue: shareOf(table, [1, 0, 0, 0], [1, 0, 1, 0], 'called'),
    negativePredictiveValue: shareOf(table, [0, 0, 0, 1], [0, 1, 0, 1], 'left'),
    accuracy: shareOf(table, [1, 0, 0, 1], everybody),
    majorityBaseline: shareOf(table, events > others ? [1, 1, 0, 0] : [0, 0, 1, 1], everybody),
    calledIn: shareOf(table, [1, 0, 1, 0], everybody),
    positiveLikelihoodRatio: ratio(table, found, events, falseAlarms, others),
    negativeLikelihoodRatio: ratio(table, missed, events, rightlyLeft, others),
    kappa: cohenKappa(table),
    falsePositiveRate: shareOf(table, [0, 0, 1, 0], [0, 0, 1, 1], 'others'),
    falseNegativeRate: shareOf(table, [0, 1, 0, 0], [1, 1, 0, 0], 'events'),
    ...beyondChance(table),
  };
}

const everybody = [1, 1, 1, 1];

/** Missed cases and false alarms, each as a share of everybody. */
export const errorShares = (table: ErrorTable): { missed: Rate; falseAlarms: Rate } => ({
  missed: shareOf(table, [0, 1, 0, 0], everybody),
  falseAlarms: shareOf(table, [0, 0, 1, 0], everybody),
});

/** Which of found, missed, false alarms and rightly left are counted, of which. */
function shareOf(
  table: ErrorTable,
  counted: number[],
  of: number[],
  among?: keyof TableSpread['among'],
): Rate {
  const counts = countsOf(table);
  const sum = (some: number[]) => counts.reduce((all, one, i) => all + some[i] * one, 0);
  const [count, total] = [sum(counted), sum(of)];
  const { spread } = table;
  if (!spread || total === 0) return rate(count, total);
  const value = count / total;
  const slopes = counted.map((one, i) => (one - value * of[i]) / total);
  const effective = effectiveTotal(value, total, varianceAlong(slopes, spread.covariance), {
    clusters: spread.clusters,
    among: among ? spread.among[among] : spread.clusters,
  });
  return { value, count, total, interval: wilsonInterval(value * effective, effective) };
}

/** A proportion of so many; without value where there is nobody. */
export function rate(count: number, total: number): Rate {
  if (total === 0) return { count, total };
  return { value: count / total, count, total, interval: wilsonInterval(count, total) };
}

/** (a/m) / (b/n); without value when it would be 0/0 or a number over 0. */
function ratio(table: ErrorTable, a: number, m: number, b: number, n: number): Figure {
  if (m === 0 || n === 0 || b === 0) return {};
  const value = a / m / (b / n);
  if (!table.spread || a === 0) return { value, interval: ratioInterval(a, m, b, n) };
  const isOfCalled = a === table.found && b === table.falseAlarms;
  const log = ([found, missed, falseAlarms, rightlyLeft]: number[]) =>
    Math.log((isOfCalled ? found : missed) / (found + missed)) -
    Math.log((isOfCalled ? falseAlarms : rightlyLeft) / (falseAlarms + rightlyLeft));
  const reach = reachByDelta(table, log);
  return { value, interval: [value * Math.exp(-reach), value * Math.exp(reach)] };
}
