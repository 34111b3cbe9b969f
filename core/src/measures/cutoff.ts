import * as z from 'zod';
import { costOfCalling, type ErrorCosts } from './costs.ts';
import { countCalled, type RankedRisks } from './ranked.ts';

/** How the cutoff is chosen. Every rule looks at out-of-fold predictions only. */
export const cutoffRuleSchema = z.discriminatedUnion('rule', [
  z.object({ rule: z.literal('cheapest') }),
  /** At least this share of the cases is found. */
  z.object({ rule: z.literal('find'), share: z.number().min(0.01).max(1) }),
  /** At most this many of 1,000 patients are called in. */
  z.object({ rule: z.literal('call'), perThousand: z.number().min(1).max(1000) }),
  /** Put there by hand. */
  z.object({ rule: z.literal('hand'), cutoff: z.number() }),
]);
export type CutoffRule = z.infer<typeof cutoffRuleSchema>;

/** The cutoff that a rule gives on these predictions. */
export function chooseCutoff(rule: CutoffRule, ranked: RankedRisks, costs: ErrorCosts): number {
  if (rule.rule === 'hand') return rule.cutoff;
  if (rule.rule === 'cheapest') return cheapest(ranked, costs);
  if (rule.rule === 'find') return lowestThatFinds(ranked, rule.share);
  return lowestThatCalls(
    ranked,
    Math.floor((rule.perThousand / 1000) * ranked.risks.length + 1e-9),
  );
}

/** Least cost; of equally cheap cutoffs the highest, which calls fewest patients in. */
function cheapest(ranked: RankedRisks, costs: ErrorCosts): number {
  const { risks, nobody } = ranked;
  let best = nobody;
  let least = Infinity;
  // The points of the cost curve, from the lowest cutoff up, of which none need be kept.
  for (let called = risks.length; called >= 0; called--) {
    if (called > 0 && called < risks.length && risks[called] === risks[called - 1]) continue;
    const cost = costOfCalling(ranked, called, costs);
    if (cost > least + 1e-9) continue;
    best = called === 0 ? nobody : risks[called - 1];
    least = Math.min(cost, least);
  }
  return readable(ranked, best);
}

/** The highest cutoff that still finds the wanted share of the cases. */
function lowestThatFinds(ranked: RankedRisks, share: number): number {
  const wanted = Math.ceil(share * ranked.events * ranked.times - 1e-9);
  let called = 0;
  while (called < ranked.risks.length && ranked.eventsAbove[called] < wanted) called++;
  return called === 0 ? ranked.nobody : readable(ranked, ranked.risks[called - 1]);
}

/** The lowest cutoff that calls no more than `most` patients in; ties stay together. */
function lowestThatCalls(ranked: RankedRisks, most: number): number {
  const { length } = ranked.risks;
  let called = Math.min(most, length);
  while (called > 0 && called < length && ranked.risks[called] === ranked.risks[called - 1])
    called--;
  return called === 0 ? ranked.nobody : readable(ranked, ranked.risks[called - 1]);
}

/**
 * The number with the fewest decimals that calls in exactly the patients that `cutoff` does: it
 * can be said, written down and typed in again without changing anyone's call.
 */
export function readable(ranked: RankedRisks, cutoff: number): number {
  if (cutoff === ranked.nobody) return cutoff;
  const called = countCalled(ranked, cutoff);
  const below = called < ranked.risks.length ? ranked.risks[called] : -Infinity;
  for (let digits = 2; digits < 15; digits++) {
    const rounded = Math.floor(cutoff * 10 ** digits) / 10 ** digits;
    if (rounded > below && rounded <= cutoff) return rounded;
  }
  return cutoff;
}
