import {
  casesOf,
  OutcomeError,
  readOutcome,
  type Outcome,
  type OutcomeKind,
} from '../outcome/index.ts';
import type { Table } from '../table/index.ts';
import { allocateFolds } from './folds/index.ts';
import { allocateHeldOut, side } from './split/index.ts';
import { caseRule, foldsOf, outcomeChoice, splitOf, type Design } from './design.ts';
import { patientKeys } from './patient-keys.ts';
import { patientsOf } from './patients.ts';
import { strataOf } from './strata.ts';

/** Who is development and who is held out, with the folds inside the development patients. */
export interface Division {
  outcome: Outcome;
  /** 1 where the patient is a case, 0 where not, -1 where the outcome is not known. */
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

/** What the analyst sees of the division; events are cases. */
export interface DivisionCounts {
  development: { patients: number; events: number };
  heldOut: { patients: number; events: number };
  /** Rows left out because the outcome is not known. */
  unused: number;
  /** Several levels: development patients of each, in their order. */
  levels?: number[];
}

/** A design that cannot be carried out on these patients, with a sentence for the analyst. */
export class DesignError extends Error {}

/** Carries out the design's split and folds. Throws a DesignError when a side lacks a level. */
export function divide(table: Table, design: Design): Division {
  const outcome = findOutcome(table, design);
  const events = casesOf(outcome, caseRule(design));
  const strata = strataOf(outcome);
  const identifier = table.dictionary.findIndex((entry) => entry.role === 'identifier');
  const patients = patientsOf(patientKeys(table, identifier));
  const sides = allocateHeldOut(patients, strata, splitOf(design), design.seed);
  const developmentRows = rowsOn(sides, side.development);
  const heldOutRows = rowsOn(sides, side.heldOut);
  const counts: DivisionCounts = {
    development: countEvents(events, developmentRows),
    heldOut: countEvents(events, heldOutRows),
    unused: table.rowCount - developmentRows.length - heldOutRows.length,
    ...(outcome.kind === 'levels' && { levels: countLevels(outcome, developmentRows) }),
  };
  checkCounts(counts, design);
  if (outcome.kind === 'levels')
    checkLevels(outcome, { developmentRows, heldOutRows }, foldsOf(design).count);
  const folds = allocateFolds(patients, strata, developmentRows, foldsOf(design), design.seed);
  return { outcome, events, sides, developmentRows, heldOutRows, folds, counts };
}

/** The outcome of every row. Throws a DesignError where it cannot be read. */
export function findOutcome(table: Table, design: Design): Outcome {
  try {
    return readOutcome(table, outcomeChoice(design, table.dictionary));
  } catch (error) {
    throw error instanceof OutcomeError ? new DesignError(error.message) : error;
  }
}

function countEvents(events: Int8Array, rows: Int32Array) {
  let count = 0;
  for (const row of rows) count += events[row];
  return { patients: rows.length, events: count };
}

/** What a case is, in the words of its kind. */
const words: { [K in OutcomeKind]: (design: Design) => { is: string; has: string } } = {
  event: ({ event }) => ({ is: `the event "${event}"`, has: 'have the event' }),
  levels: () => ({ is: 'a level that is a case', has: 'are cases' }),
  number: () => ({ is: 'a number that is a case', has: 'are cases' }),
};

function checkCounts({ development, heldOut }: DivisionCounts, design: Design): void {
  const total = development.patients + heldOut.patients;
  const events = development.events + heldOut.events;
  const { is, has } = words[design.kind](design);
  const { count } = foldsOf(design);
  if (total === 0) throw new DesignError('No patient has a known outcome.');
  if (events === 0 || events === total)
    throw new DesignError(
      `Every patient with a known outcome ${events === 0 ? 'lacks' : 'has'} ${is}: there is nothing to tell apart.`,
    );
  if (
    development.events < count ||
    development.patients - development.events < count ||
    heldOut.events === 0 ||
    heldOut.events === heldOut.patients
  )
    throw new DesignError(
      `Too few patients to divide: ${events} of ${total} ${has}. Each of the ${count} folds and the held-out side need patients with and without it.`,
    );
}

function countLevels({ values, levels }: Outcome<'levels'>, rows: Int32Array): number[] {
  const counts = levels.map(() => 0);
  for (const row of rows) counts[values[row]]++;
  return counts;
}

/** A level that some fold has nobody of teaches nothing, and one that the held-out side lacks cannot be judged. */
function checkLevels(
  outcome: Outcome<'levels'>,
  { developmentRows, heldOutRows }: Pick<Division, 'developmentRows' | 'heldOutRows'>,
  folds: number,
): void {
  const { levels } = outcome;
  const [development, heldOut] = [developmentRows, heldOutRows].map((rows) =>
    countLevels(outcome, rows),
  );
  const total = developmentRows.length + heldOutRows.length;
  const thin = levels.flatMap((level, k) =>
    development[k] < folds || heldOut[k] === 0
      ? [`${level} (${development[k] + heldOut[k]} of ${total} patients)`]
      : [],
  );
  if (thin.length === 0) return;
  throw new DesignError(
    `Too few patients of ${thin.length === 1 ? 'a level' : 'some levels'} to divide: ${thin.join(', ')}. Each of the ${folds} folds and the held-out side need patients of every level. Merge levels in Records, or predict one level against the rest.`,
  );
}

/** The rows of one side, ascending. */
export function rowsOn(sides: Uint8Array, wanted: number): Int32Array {
  const rows = new Int32Array(sides.length);
  let count = 0;
  for (let row = 0; row < sides.length; row++) if (sides[row] === wanted) rows[count++] = row;
  return rows.slice(0, count);
}
