import type { AllErrorCosts } from './costs.ts';
import { chooseCutoff, type CutoffRule } from './cutoff.ts';
import { rankRisks } from './ranked.ts';

/**
 * The cutoff that each prediction is judged at when a rule never sees the patients that it is judged on: the
 * one that the rule gives on the other folds of the same time. A cutoff chosen on the same predictions looks
 * better than it is (Leeflang et al. 2008, Clinical Chemistry 54:729-737; from memory).
 *
 * @param folds of each prediction, numbered on from time to time
 * @param times how often each patient is among them: those of each time behind one another
 * @returns undefined where a time has one fold only
 * @example two folds: patients of the first are called in from the cutoff that the second gives
 */
export function crossFittedCutoffs(
  scores: ArrayLike<number>,
  events: ArrayLike<number>,
  folds: ArrayLike<number>,
  rule: CutoffRule,
  costs: AllErrorCosts,
  nobody: number,
  times = 1,
): Float64Array | undefined {
  const length = scores.length / times;
  const cutoffs = new Float64Array(scores.length);
  for (let time = 0; time < times; time++) {
    const rows = Int32Array.from({ length }, (_, i) => time * length + i);
    const names = new Set(Array.from(rows, (row) => folds[row]));
    if (names.size < 2) return undefined;
    for (const fold of names) {
      const others = rows.filter((row) => folds[row] !== fold);
      const pick = (values: ArrayLike<number>) => Float64Array.from(others, (row) => values[row]);
      const own = costs.own && {
        missed: pick(costs.own.missed),
        falseAlarm: pick(costs.own.falseAlarm),
      };
      const ranked = rankRisks(pick(scores), pick(events), nobody, own);
      const cutoff = chooseCutoff(rule, ranked, costs);
      for (const row of rows) if (folds[row] === fold) cutoffs[row] = cutoff;
    }
  }
  return cutoffs;
}

/** Cost of the errors per 1,000 predictions, each called in from its own cutoff. */
export function costAtCutoffs(
  scores: ArrayLike<number>,
  events: ArrayLike<number>,
  cutoffs: Float64Array,
  { missedCost, falseAlarmCost, own }: AllErrorCosts,
): number {
  let sum = 0;
  for (let i = 0; i < cutoffs.length; i++) {
    const isCalled = scores[i] >= cutoffs[i];
    if (events[i] && !isCalled) sum += own ? own.missed[i] : missedCost;
    if (!events[i] && isCalled) sum += own ? own.falseAlarm[i] : falseAlarmCost;
  }
  return (1000 * sum) / cutoffs.length;
}
