import { display, type Table } from '../table/index.ts';
import { allocateFolds, allocateHeldOut, patientsOf, side } from './allocation.ts';
import { foldCount, type Design } from './design.ts';
import { patientKeys } from './patient-keys.ts';

/** Who is development and who is held out, with the folds inside the development patients. */
export interface Division {
  /** 1 where the patient has the event, 0 where not, -1 where the outcome is not known. */
  events: Int8Array;
  /** One entry of `side` a row. */
  sides: Uint8Array;
  /** Row numbers, ascending. */
  developmentRows: Int32Array;
  heldOutRows: Int32Array;
  /** Fold of each entry of `developmentRows`. */
  folds: Uint8Array;
  counts: DivisionCounts;
}

/** What the analyst sees of the division. */
export interface DivisionCounts {
  development: { patients: number; events: number };
  heldOut: { patients: number; events: number };
  /** Rows left out because the outcome is not known. */
  unused: number;
}

/** A design that cannot be carried out on these patients, with a sentence for the analyst. */
export class DesignError extends Error {}

/** Carries out the design's split and folds. Throws a DesignError when a side lacks a level. */
export function divide(table: Table, design: Design): Division {
  const events = findEvents(table, design);
  const identifier = table.dictionary.findIndex((entry) => entry.role === 'identifier');
  const patients = patientsOf(patientKeys(table, identifier));
  const sides = allocateHeldOut(patients, events, design.heldOutShare, design.seed);
  const developmentRows = rowsOn(sides, side.development);
  const heldOutRows = rowsOn(sides, side.heldOut);
  const counts: DivisionCounts = {
    development: countEvents(events, developmentRows),
    heldOut: countEvents(events, heldOutRows),
    unused: table.rowCount - developmentRows.length - heldOutRows.length,
  };
  checkCounts(counts, design);
  const folds = allocateFolds(patients, events, developmentRows, foldCount, design.seed);
  return { events, sides, developmentRows, heldOutRows, folds, counts };
}

/** 1 event, 0 no event, -1 not known, one a row. */
export function findEvents(table: Table, design: Pick<Design, 'outcome' | 'event'>): Int8Array {
  const position = table.dictionary.findIndex((entry) => entry.name === design.outcome);
  const column = table.columns[position];
  if (!column) throw new DesignError('The outcome column is not in this cohort.');
  if (column.type !== 'coded')
    throw new DesignError(
      `${display(table.dictionary[position])} has no levels. Make it yes/no or a category in Records.`,
    );
  const eventCode = column.levels.indexOf(design.event);
  if (eventCode < 0)
    throw new DesignError(
      `${display(table.dictionary[position])} has no level "${design.event}" in this cohort.`,
    );
  return Int8Array.from(column.codes, (code) => (code < 0 ? -1 : Number(code === eventCode)));
}

function countEvents(events: Int8Array, rows: Int32Array) {
  let count = 0;
  for (const row of rows) count += events[row];
  return { patients: rows.length, events: count };
}

function checkCounts({ development, heldOut }: DivisionCounts, design: Design): void {
  const total = development.patients + heldOut.patients;
  const events = development.events + heldOut.events;
  if (total === 0) throw new DesignError('No patient has a known outcome.');
  if (events === 0 || events === total)
    throw new DesignError(
      `Every patient with a known outcome ${events === 0 ? 'lacks' : 'has'} the event "${design.event}": there is nothing to tell apart.`,
    );
  if (
    development.events < foldCount ||
    development.patients - development.events < foldCount ||
    heldOut.events === 0 ||
    heldOut.events === heldOut.patients
  )
    throw new DesignError(
      `Too few patients to divide: ${events} of ${total} have the event. Each of the ${foldCount} folds and the held-out side need patients with and without it.`,
    );
}

/** The rows of one side, ascending. */
export function rowsOn(sides: Uint8Array, wanted: number): Int32Array {
  const rows = new Int32Array(sides.length);
  let count = 0;
  for (let row = 0; row < sides.length; row++) if (sides[row] === wanted) rows[count++] = row;
  return rows.slice(0, count);
}
