import type { ErrorCosts } from './costs.ts';
import type { ErrorTable } from './error-table.ts';
import type { Interval } from './intervals.ts';
import { ratesOf, type Figure } from './rates.ts';

/** What the calls would be worth where another share of the patients are cases. */
export interface Elsewhere {
  positivePredictiveValue: Figure;
  negativePredictiveValue: Figure;
  /** Of 1,000 patients there. */
  calledIn: number;
  found: number;
  missed: number;
  falseAlarms: number;
  /** Of 1,000 patients there, and what the cheaper of calling everybody and nobody in would cost. */
  cost: number;
  reference: number;
}

/**
 * Predictive values by Bayes' rule, with intervals on the logit scale: Mercaldo, Lau & Zhou (2007),
 * Statistics in Medicine 26:2170-2183. It takes for granted that cases are found, and others called in,
 * as often as in these patients. Undefined where one of both has nobody.
 *
 * @param share of cases there, between 0 and 1
 */
export function elsewhere(
  table: ErrorTable,
  share: number,
  { missedCost, falseAlarmCost }: ErrorCosts,
): Elsewhere | undefined {
  const rates = ratesOf(table);
  const [sensitivity, specificity] = [rates.sensitivity.value, rates.specificity.value];
  if (sensitivity === undefined || specificity === undefined) return undefined;
  const odds = share / (1 - share);
  const found = 1000 * share * sensitivity;
  const missed = 1000 * share * (1 - sensitivity);
  const falseAlarms = 1000 * (1 - share) * (1 - specificity);
  const calledIn = found + falseAlarms;
  const left = 1000 - calledIn;
  return {
    positivePredictiveValue: valueOf(
      calledIn > 0 ? found / calledIn : undefined,
      rates.positiveLikelihoodRatio.interval?.map((ratio) => odds * ratio),
    ),
    negativePredictiveValue: valueOf(
      left > 0 ? (left - missed) / left : undefined,
      // The smaller the ratio, the surer a patient is none who is left alone.
      rates.negativeLikelihoodRatio.interval?.map((ratio) => 1 / (odds * ratio)).reverse(),
    ),
    calledIn,
    found,
    missed,
    falseAlarms,
    cost: missed * missedCost + falseAlarms * falseAlarmCost,
    reference: 1000 * Math.min(share * missedCost, (1 - share) * falseAlarmCost),
  };
}

function valueOf(value: number | undefined, odds: number[] | undefined): Figure {
  if (value === undefined) return {};
  return {
    value,
    ...(odds && { interval: odds.map((one) => one / (1 + one)) as Interval }),
  };
}
