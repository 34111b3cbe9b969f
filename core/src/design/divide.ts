import {
  casesOf,
  OutcomeError,
  readOutcome,
  type Outcome,
  type OutcomeKind,
} from '../outcome/index.ts';
import type { Table } from '../table/index.ts';
import { allocateFolds, repeatsOf } from './folds/index.ts';
import { allocateHeldOut, side, type SplitContext } from './split/index.ts';
import { caseRule, outcomeChoice, type Design } from './design.ts';
import { DesignError } from './design-error.ts';
import { patientKeys } from './patient-keys.ts';
import { patientsOf, type Patients } from './patients.ts';
import { rowsOn } from './rows.ts';
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
  sealedRows: Int32Array;
  /** Fold of each entry of `developmentRows`, for each time that they are dealt; see `Dealt`. */
  folds: Uint8Array;
  counts: DivisionCounts;
}

/** Patients of one part of a division; events are cases. */
export interface PartCounts {
  patients: number;
  events: number;
}

/** What the analyst sees of the division. */
export interface DivisionCounts {
  development: PartCounts;
  heldOut: PartCounts;
  /** Absent where nothing is sealed. */
  sealed?: PartCounts;
  /** Rows left out because the outcome is not known. */
  unused: number;
  /** Rows whose outcome is known and that were put on neither side: without a date, or not marked. */
  unplaced?: number;
  /** Several levels: development patients of each, in their order. */
  levels?: number[];
  /** Those of the first time that they are dealt; absent in divisions from before they were counted. */
  folds?: (PartCounts & { name?: string })[];
}

/** What else a division may go by, besides the table. */
export interface DivideBy extends Pick<SplitContext, 'fileRows' | 'broughtIn'> {
  /** Who the rows are, where that was worked out before. */
  patients?: Patients;
}

/** Carries out the design's split and folds. Throws a DesignError when a side lacks a level. */
export function divide(table: Table, design: Design, by: DivideBy = {}): Division {
  const outcome = findOutcome(table, design);
  const events = casesOf(outcome, caseRule(design));
  const strata = strataOf(outcome);
  const { patients = patientsIn(table), ...also } = by;
  const { seed, heldOutShare: share, sealedShare } = design;
  const context = { patients, strata, table, seed, ...also };
  const sides = allocateHeldOut({ ...context, share, sealedShare }, design.split);
  const [developmentRows, heldOutRows, sealedRows] = [
    side.development,
    side.heldOut,
    side.sealed,
  ].map((wanted) => rowsOn(sides, wanted));
  let unknown = 0;
  for (let row = 0; row < table.rowCount; row++) if (strata[row] < 0) unknown++;
  const placed = developmentRows.length + heldOutRows.length + sealedRows.length;
  const unplaced = table.rowCount - placed - unknown;
  const counts: DivisionCounts = {
    development: countEvents(events, developmentRows),
    heldOut: countEvents(events, heldOutRows),
    ...(sealedRows.length > 0 && { sealed: countEvents(events, sealedRows) }),
    unused: unknown,
    ...(unplaced > 0 && { unplaced }),
    ...(outcome.kind === 'levels' && { levels: countLevels(outcome, developmentRows) }),
  };
  checkSides(counts, design);
  const { folds, names } = allocateFolds({ ...context, rows: developmentRows }, design.folds);
  const { length } = developmentRows;
  for (let repeat = repeatsOf(design.folds) - 1; repeat >= 0; repeat--) {
    const dealt = folds.subarray(repeat * length, (repeat + 1) * length);
    const least = dealt.reduce((least, fold) => Math.min(least, fold), 255);
    const own = repeat === 0 ? dealt : dealt.map((fold) => fold - least);
    counts.folds = countFolds(events, developmentRows, own, names);
    checkFolds(counts, design);
    if (outcome.kind === 'levels')
      checkLevels(outcome, { developmentRows, heldOutRows }, own, counts.folds.length);
  }
  return { outcome, events, sides, developmentRows, heldOutRows, sealedRows, folds, counts };
}

/** Who the rows of a table are: by its identifier, else by all that they hold. */
export function patientsIn(table: Table): Patients {
  const identifier = table.dictionary.findIndex((entry) => entry.role === 'identifier');
  return patientsOf(patientKeys(table, identifier));
}

/** The outcome of every row. Throws a DesignError where it cannot be read. */
export function findOutcome(table: Table, design: Design): Outcome {
  try {
    return readOutcome(table, outcomeChoice(design, table.dictionary));
  } catch (error) {
    throw error instanceof OutcomeError ? new DesignError(error.message) : error;
  }
}

function countFolds(
  events: Int8Array,
  rows: Int32Array,
  folds: Uint8Array,
  names: string[] | undefined,
): (PartCounts & { name?: string })[] {
  const count = names?.length ?? folds.reduce((most, fold) => Math.max(most, fold), -1) + 1;
  const parts = Array.from({ length: count }, (_, fold) => ({
    patients: 0,
    events: 0,
    ...(names && { name: names[fold] }),
  }));
  rows.forEach((row, i) => {
    parts[folds[i]].patients++;
    parts[folds[i]].events += events[row];
  });
  return parts;
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

function checkSides({ development, heldOut, sealed }: DivisionCounts, design: Design): void {
  const total = development.patients + heldOut.patients + (sealed?.patients ?? 0);
  const events = development.events + heldOut.events + (sealed?.events ?? 0);
  const { is, has } = words[design.kind](design);
  if (total === 0) throw new DesignError('No patient has a known outcome and a side.');
  if (events === 0 || events === total)
    throw new DesignError(
      `Every patient with a known outcome ${events === 0 ? 'lacks' : 'has'} ${is}: there is nothing to tell apart.`,
    );
  const empty = [
    { name: 'development', ...development },
    { name: 'held-out', ...heldOut },
    ...(sealed ? [{ name: 'sealed', ...sealed }] : []),
  ].find((one) => one.events === 0 || one.events === one.patients);
  if (empty)
    throw new DesignError(
      `Too few patients to divide: ${events} of ${total} ${has}, and on the ${empty.name} side ${empty.events} of ${empty.patients}. Each of the folds and the held-out side need patients with and without it.`,
    );
}

/** Each fold is predicted by what the others taught: they need both. */
function checkFolds({ development, folds = [] }: DivisionCounts, design: Design): void {
  const { has } = words[design.kind](design);
  const dealt = design.folds.way === 'by chance';
  const poor = folds.find(({ patients, events }) =>
    dealt
      ? events === 0 || events === patients
      : development.events === events ||
        development.patients - development.events === patients - events,
  );
  if (!poor) return;
  if (dealt)
    throw new DesignError(
      `Too few patients to divide: ${development.events} of ${development.patients} development patients ${has}. Each of the ${folds.length} folds and the held-out side need patients with and without it.`,
    );
  const name = poor.name ?? `fold ${folds.indexOf(poor) + 1}`;
  throw new DesignError(
    `Without ${name} nobody is left to learn from who ${poor.events === development.events ? '' : 'does not '}${has}: its ${poor.patients} patients are all of them. Deal the folds another way.`,
  );
}

function countLevels({ values, levels }: Outcome<'levels'>, rows: Int32Array): number[] {
  const counts = levels.map(() => 0);
  for (const row of rows) counts[values[row]]++;
  return counts;
}

/** A level that a fold's others have nobody of teaches nothing, and one that the held-out side lacks cannot be judged. */
function checkLevels(
  outcome: Outcome<'levels'>,
  { developmentRows, heldOutRows }: Pick<Division, 'developmentRows' | 'heldOutRows'>,
  folds: Uint8Array,
  count: number,
): void {
  const { levels } = outcome;
  const [development, heldOut] = [developmentRows, heldOutRows].map((rows) =>
    countLevels(outcome, rows),
  );
  const inFolds = Array.from({ length: count }, (_, fold) =>
    countLevels(
      outcome,
      developmentRows.filter((_, i) => folds[i] === fold),
    ),
  );
  const total = developmentRows.length + heldOutRows.length;
  const thin = levels.flatMap((level, k) =>
    development[k] < Math.min(count, 5) ||
    inFolds.some((own) => own[k] === development[k]) ||
    heldOut[k] === 0
      ? [`${level} (${development[k] + heldOut[k]} of ${total} patients)`]
      : [],
  );
  if (thin.length === 0) return;
  throw new DesignError(
    `Too few patients of ${thin.length === 1 ? 'a level' : 'some levels'} to divide: ${thin.join(', ')}. Each of the ${count} folds and the held-out side need patients of every level. Merge levels in Records, or predict one level against the rest.`,
  );
}
