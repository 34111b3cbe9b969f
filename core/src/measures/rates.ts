import type { ErrorTable } from './error-table.ts';
import { ratioInterval, wilsonInterval, type Interval } from './intervals.ts';
import { beyondChance } from './beyond-chance.ts';
import { cohenKappa } from './kappa.ts';

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

/** The rates of an error table. Altman & Bland (1994), BMJ 308:1552, 309:102; Deeks & Altman (2004), BMJ 329:168. */
export function ratesOf(table: ErrorTable): Rates {
  const { found, missed, falseAlarms, rightlyLeft } = table;
  const events = found + missed;
  const others = falseAlarms + rightlyLeft;
  const all = events + others;
  return {
    sensitivity: rate(found, events),
    specificity: rate(rightlyLeft, others),
    positivePredictiveValue: rate(found, found + falseAlarms),
    negativePredictiveValue: rate(rightlyLeft, missed + rightlyLeft),
    accuracy: rate(found + rightlyLeft, all),
    majorityBaseline: rate(Math.max(events, others), all),
    calledIn: rate(found + falseAlarms, all),
    positiveLikelihoodRatio: ratio(found, events, falseAlarms, others),
    negativeLikelihoodRatio: ratio(missed, events, rightlyLeft, others),
    kappa: cohenKappa(table),
    falsePositiveRate: rate(falseAlarms, others),
    falseNegativeRate: rate(missed, events),
    ...beyondChance(table),
  };
}

/** A proportion of so many; without value where there is nobody. */
export function rate(count: number, total: number): Rate {
  if (total === 0) return { count, total };
  return { value: count / total, count, total, interval: wilsonInterval(count, total) };
}

/** (a/m) / (b/n); without value when it would be 0/0 or a number over 0. */
function ratio(a: number, m: number, b: number, n: number): Figure {
  if (m === 0 || n === 0 || b === 0) return {};
  return { value: a / m / (b / n), interval: ratioInterval(a, m, b, n) };
}
