import { wilsonInterval, type Interval } from '../intervals.ts';
import type { RankedRisks } from '../ranked.ts';

/** Patients of about the same risk: what they were told on average, and how many had it. */
export interface CalibrationGroup {
  patients: number;
  /** Mean risk. */
  told: number;
  /** Share of cases, with its 95% interval (Wilson). */
  found: number;
  interval: Interval;
}

/**
 * Groups of as many patients each by the order of their risks, as the test of Hosmer & Lemeshow (1980) makes them.
 * Fewer where patients are few, so that each has ten.
 */
export function calibrationGroups(
  { risks, eventsAbove, times }: RankedRisks,
  groups = 10,
): CalibrationGroup[] {
  const { length } = risks;
  const count = Math.max(1, Math.min(groups, Math.floor(length / times / fewest)));
  const found: CalibrationGroup[] = [];
  // From the lowest risks up; what is left over is spread as evenly as can be.
  for (let group = 0; group < count; group++) {
    const [low, high] = [group, group + 1].map((edge) => Math.ceil((edge * length) / count));
    if (high === low) continue;
    const [from, to] = [length - high, length - low];
    let told = 0;
    for (let i = from; i < to; i++) told += risks[i];
    const cases = (eventsAbove[to] - eventsAbove[from]) / times;
    const patients = (to - from) / times;
    found.push({
      patients,
      told: told / (to - from),
      found: cases / patients,
      interval: wilsonInterval(cases, patients)!,
    });
  }
  return found;
}

const fewest = 10;
