import { countCalled, type RankedRisks } from './ranked.ts';

/** What calling in from a risk on is worth, in found cases per patient. */
export interface BenefitPoint {
  /** Risk from which on somebody is called in: one found case is then worth (1 - risk) / risk false alarms. */
  threshold: number;
  model: number;
  everybody: number;
}

/**
 * Found cases less false alarms, weighed by the odds of the threshold: Vickers & Elkin (2006), Medical
 * Decision Making 26:565-574. Of calling nobody in it is 0.
 */
export function netBenefit(ranked: RankedRisks, threshold: number): BenefitPoint {
  const { patients, events, eventsAbove, times } = ranked;
  const called = countCalled(ranked, threshold);
  const found = eventsAbove[called] / times;
  const odds = threshold / (1 - threshold);
  return {
    threshold,
    model: (found - (called / times - found) * odds) / patients,
    everybody: (events - (patients - events) * odds) / patients,
  };
}

/** The curve at even steps up to a threshold. */
export const benefitCurve = (ranked: RankedRisks, upTo: number, steps = 200): BenefitPoint[] =>
  Array.from({ length: steps }, (_, i) => netBenefit(ranked, (upTo * (i + 1)) / (steps + 1)));

/** Missed cases and false alarms that cost the same, as how much one missed case costs in false alarms. */
export interface RatioRange {
  /** Below it, calling nobody in is cheaper; absent where calls find nobody. */
  from?: number;
  /** Above it, calling everybody in is cheaper; absent where nobody is missed. */
  to?: number;
}

/**
 * For which ratios of the costs a cutoff is cheaper than calling nobody and everybody in: a missed case
 * must cost as much as false alarms / found of it, and no more than rightly left / missed.
 */
export function ratiosWorth({
  found,
  missed,
  falseAlarms,
  rightlyLeft,
}: {
  found: number;
  missed: number;
  falseAlarms: number;
  rightlyLeft: number;
}): RatioRange {
  return {
    ...(found > 0 && { from: falseAlarms / found }),
    ...(missed > 0 && { to: rightlyLeft / missed }),
  };
}
