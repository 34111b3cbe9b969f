import { countCalled, type RankedRisks } from './ranked.ts';

/** Counts at one cutoff; of patients predicted several times the mean over the times. Outcome in rows (event first), call in columns. */
export interface ErrorTable {
  /** Event, called in (true positives). */
  found: number;
  /** Event, left alone (false negatives). */
  missed: number;
  /** No event, called in (false positives). */
  falseAlarms: number;
  /** No event, left alone (true negatives). */
  rightlyLeft: number;
}

export function errorTable(ranked: RankedRisks, cutoff: number): ErrorTable {
  const { times } = ranked;
  const called = countCalled(ranked, cutoff);
  const found = ranked.eventsAbove[called] / times;
  const falseAlarms = called / times - found;
  return {
    found,
    missed: ranked.events - found,
    falseAlarms,
    rightlyLeft: ranked.patients - ranked.events - falseAlarms,
  };
}
