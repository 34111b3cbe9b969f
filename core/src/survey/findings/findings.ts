import { isAboutRows, canPredict, type Table } from '../../table/index.ts';
import { findAnswers, findSorting } from './about-outcome.ts';
import { findCountedRows } from './counted-rows.ts';
import { findDuplicates } from './duplicated-patients.ts';
import type { Finding } from './finding.ts';
import { findLookAlikes } from './look-alikes.ts';
import { findLaterByName } from './later-by-name.ts';
import { findMissingByOutcome } from './missing-by-outcome.ts';
import { findMixedUnits } from './mixed-units.ts';
import { findOddValues } from './odd-values.ts';

/** What is known of the outcome when a table is looked through. */
export interface OutcomeKnown {
  name: string;
  /** 1, 0, or -1 where not known, one a row. */
  events: Int8Array;
  /** The rows in which predictors may be set against the outcome: never held-out ones. */
  rows: ArrayLike<number>;
}

/**
 * Looks a table of patients through for the traps of real extracts. Columns set aside as the
 * outcome or identifier are judged by their values only where that makes sense; everything that
 * sets a column against the outcome uses the development rows alone.
 */
export function surveyTable(table: Table, outcome?: OutcomeKnown): Finding[] {
  const usable = table.dictionary.map(
    (entry) => canPredict(entry.kind) && !isAboutRows(entry) && entry.name !== outcome?.name,
  );
  const odd = table.columns.flatMap((column, i) =>
    usable[i] ? findOddValues(table.dictionary[i].name, column) : [],
  );
  // Patients of one row of a grouped table are alike because it says no more of them.
  const grouped = table.dictionary.some(({ role }) => role === 'number of patients');
  return [
    ...(grouped ? [] : [...findCountedRows(table), ...findDuplicates(table)]),
    ...odd,
    ...findMixedUnits(table, usable, outcome?.name),
    ...(outcome ? againstOutcome(table, usable, outcome) : []),
    ...findLookAlikes(table, usable),
    ...(outcome ? findSorting(outcome.events) : []),
  ];
}

/** Columns that may be recorded after the outcome, by their values or, where these say nothing, by their name. */
function againstOutcome(table: Table, usable: boolean[], outcome: OutcomeKnown): Finding[] {
  const { name, events, rows } = outcome;
  const byValues = [
    ...findAnswers(table, usable, events, rows),
    ...findMissingByOutcome(table, usable, events, rows),
  ];
  const found = new Set(byValues.flatMap(({ columns }) => columns));
  const others = usable.map((use, i) => use && !found.has(table.dictionary[i].name));
  return [...byValues, ...findLaterByName(table.dictionary, others, name)];
}
