import * as z from 'zod';
import { countCalled, nobodyOf, rankRisks, readable } from '../measures/index.ts';
import type { OutcomeKind } from '../outcome/index.ts';

/** Who of one list is called in: a choice of that list alone. */
export const callRuleSchema = z.discriminatedUnion('by', [
  /** Everyone from the cutoff that the list was scored with. */
  z.object({ by: z.literal('candidate') }),
  /** Everyone from another cutoff. */
  z.object({ by: z.literal('cutoff'), cutoff: z.number() }),
  /**
   * The patients most at risk, as many as there is room for. Patients with the same risk are called
   * in together or not at all: `ties` says which, where the last places fall among them.
   */
  z.object({
    by: z.literal('capacity'),
    patients: z.int().min(0).max(100_000_000),
    ties: z.enum(['leave', 'call']),
  }),
]);
export type CallRule = z.infer<typeof callRuleSchema>;

/** The calls of one list. */
export interface Calls {
  /** Lowest score that is called in. */
  cutoff: number;
  /** Patients called in. */
  called: number;
  /** Where the last places fall among patients with one score: how many share it, and how many are called either way. */
  tied?: { score: number; patients: number; left: number; called: number };
}

/**
 * Calls that a rule makes on the scores of one list.
 *
 * @param scores of every row; NaN where one is not scored, who is never called in
 * @param own cutoff that the list was scored with
 * @example callsOf({ by: 'capacity', patients: 2, ties: 'leave' }, 0.5, [0.9, 0.4, 0.4, 0.1], 'event')
 *   // → { cutoff: 0.9, called: 1, tied: { score: 0.4, patients: 2, left: 1, called: 3 } }; a cutoff has as few
 *   // decimals as call in the same patients
 */
export function callsOf(
  rule: CallRule,
  own: number,
  scores: ArrayLike<number>,
  kind: OutcomeKind,
): Calls {
  const known = Array.from(scores).filter((score) => !Number.isNaN(score));
  const ranked = rankRisks(known, new Uint8Array(known.length), nobodyOf(kind));
  const at = (cutoff: number): Calls => ({ cutoff, called: countCalled(ranked, cutoff) });
  if (rule.by === 'candidate') return at(own);
  if (rule.by === 'cutoff') return at(rule.cutoff);
  const { risks, nobody } = ranked;
  const room = Math.min(rule.patients, risks.length);
  if (room === 0) return at(nobody);
  const last = risks[room - 1];
  const called = countCalled(ranked, last);
  if (called === room) return at(readable(ranked, last));
  let left = room;
  while (left > 0 && risks[left - 1] === last) left--;
  const tied = { score: last, patients: called - left, left, called };
  if (rule.ties === 'call') return { ...at(readable(ranked, last)), tied };
  return { ...at(left === 0 ? nobody : readable(ranked, risks[left - 1])), tied };
}
