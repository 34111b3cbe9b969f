import { countCalled, eventsInOrder, type RankedRisks } from './ranked.ts';
import { tableSpread, type TableSpread } from './table-spread.ts';

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
  /** Where several rows are of one patient or group: intervals are then by cluster. */
  spread?: TableSpread;
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
    ...(ranked.clusters && {
      spread: tableSpread(eventsInOrder(ranked), called, ranked.clusters, times),
    }),
  };
}
