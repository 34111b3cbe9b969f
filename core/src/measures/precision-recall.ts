import type { RankedRisks } from './ranked.ts';

export interface PrecisionPoint {
  /** Patients with at least this risk are called in. */
  cutoff: number;
  /** Share of the cases that are called in. */
  sensitivity: number;
  /** Share of those called in who are cases. */
  precision: number;
}

/**
 * One point a distinct risk, from the strictest cutoff to the loosest, and the average precision: each point's
 * weighed by the cases that it adds, with no line drawn between points. Undefined without a case.
 */
export function precisionRecall({
  events,
  risks,
  eventsAbove,
  times,
}: RankedRisks): { points: PrecisionPoint[]; average: number } | undefined {
  if (events === 0) return undefined;
  const points: PrecisionPoint[] = [];
  let average = 0;
  let before = 0;
  for (let i = 1; i <= risks.length; i++) {
    if (i < risks.length && risks[i] === risks[i - 1]) continue;
    const sensitivity = eventsAbove[i] / times / events;
    const precision = eventsAbove[i] / i;
    average += (sensitivity - before) * precision;
    before = sensitivity;
    points.push({ cutoff: risks[i - 1], sensitivity, precision });
  }
  return { points, average };
}
