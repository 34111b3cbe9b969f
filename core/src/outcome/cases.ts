import * as z from 'zod';
import type { Outcome, OutcomeKind, Predictions } from './kinds.ts';

/** What a case is: whom screening is to find. */
export const caseRuleSchema = z.discriminatedUnion('kind', [
  /** Whoever has the event. */
  z.object({ kind: z.literal('event') }),
  /** Whoever has one of these levels. */
  z.object({ kind: z.literal('levels'), levels: z.array(z.string()).min(1) }),
  /** Whoever has a number from (or up to) this one. */
  z.object({ kind: z.literal('number'), value: z.number(), side: z.enum(['from', 'up to']) }),
]);
export type CaseRule = z.infer<typeof caseRuleSchema>;
type RuleOf<K extends OutcomeKind> = Extract<CaseRule, { kind: K }>;

/** 1 for a case, 0 for no case, -1 where the outcome is not known. */
export function casesOf(outcome: Outcome, rule: CaseRule): Int8Array {
  if (outcome.kind !== rule.kind) throw new Error('The rule is for another kind of outcome.');
  return finders[outcome.kind](outcome as never, rule as never);
}

/**
 * How much each patient is taken for a case: the risk, the summed share of the levels that are cases,
 * or the predicted number, turned round where low numbers are cases. Whoever has the cutoff or more is
 * called in.
 */
export function caseScores(predictions: Predictions, rule: CaseRule): Float64Array {
  if (predictions.kind !== rule.kind) throw new Error('The rule is for another kind of outcome.');
  return scorers[predictions.kind](predictions as never, rule as never);
}

/** A score as it is read, and back: numbers are turned round where low ones are cases. */
export function readScore(score: number, rule: CaseRule): number {
  return rule.kind === 'number' && rule.side === 'up to' ? -score : score;
}

/** Whether what is said, as it is read, calls a patient in. @param cutoff as it is read */
export const isCalledAt =
  (cutoff: number, rule: CaseRule) =>
  (said: number): boolean =>
    readScore(said, rule) >= readScore(cutoff, rule);

const finders: {
  [K in OutcomeKind]: (outcome: Outcome<K>, rule: RuleOf<K>) => Int8Array;
} = {
  event: ({ values }) => values,
  levels({ values, levels }, { levels: wanted }) {
    const isCase = Int8Array.from(levels, (level) => Number(wanted.includes(level)));
    return Int8Array.from(values, (code) => (code < 0 ? -1 : isCase[code]));
  },
  number({ values }, { value: limit, side }) {
    const found = new Int8Array(values.length);
    for (let i = 0; i < values.length; i++) {
      const value = values[i];
      found[i] = Number.isNaN(value)
        ? -1
        : Number(side === 'from' ? value >= limit : value <= limit);
    }
    return found;
  },
};

const scorers: {
  [K in OutcomeKind]: (predictions: Predictions<K>, rule: RuleOf<K>) => Float64Array;
} = {
  event: ({ risks }) => risks,
  levels({ levels, shares }, { levels: wanted }) {
    const width = levels.length;
    const chosen = levels.flatMap((level, k) => (wanted.includes(level) ? [k] : []));
    const scores = new Float64Array(shares.length / width);
    for (let i = 0; i < scores.length; i++)
      for (const k of chosen) scores[i] += shares[i * width + k];
    return scores;
  },
  number: ({ values }, { side }) => (side === 'from' ? values : values.map((value) => -value)),
};
