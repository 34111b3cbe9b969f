import { plainSpelling, readDay, readNumber, readYesNo } from './cell.ts';
import { isCoded, type DictionaryEntry } from './dictionary.ts';
import type { ColumnTally } from './tally.ts';

/** The two levels of every yes/no column. */
export const yesNoLevels = ['no', 'yes'];

type Reading = Pick<DictionaryEntry, 'kind' | 'missingCodes' | 'format' | 'spellings'>;

/** The level a cell of a coded column stands for: under its own name or the one given to it. */
export function levelOf(cell: string, entry: Reading): string | undefined {
  const name = spelling(entry, cell) ?? spelling(entry, plainSpelling(cell)) ?? cell;
  if (entry.kind !== 'yes/no') return name;
  const answer = readYesNo(name);
  return answer === undefined ? undefined : answer ? 'yes' : 'no';
}

function spelling({ spellings }: Reading, cell: string): string | undefined {
  return spellings && Object.hasOwn(spellings, cell) ? spellings[cell] : undefined;
}

/**
 * The levels a coded entry finds in the file, in an order that holds whatever the order of rows:
 * numbers by value, words by the alphabet; levels named after codes in the order of the codes.
 * Undefined for kinds without levels.
 */
export function defaultLevels(tally: ColumnTally, entry: Reading): string[] | undefined {
  if (!isCoded(entry.kind)) return undefined;
  if (entry.kind === 'yes/no') return yesNoLevels;
  const missing = new Set(entry.missingCodes.map(plainSpelling));
  const cells = tally.distinct
    .map(([value]) => value)
    .filter((value) => !missing.has(plainSpelling(value)));
  const levels = new Set(sortLevels(cells).map((cell) => levelOf(cell, entry)!));
  // A number that is written in two ways is one level, under its plain spelling.
  return [...levels].filter(
    (level) => level === plainSpelling(level) || !levels.has(plainSpelling(level)),
  );
}

/** The levels of an entry that was changed: those it had stay in their order, new ones follow. */
export function levelsAfterChange(
  tally: ColumnTally,
  entry: Reading,
  before: string[] = [],
): string[] | undefined {
  const found = defaultLevels(tally, entry);
  if (!found || entry.kind === 'yes/no') return found;
  const kept = before.filter((level) => found.includes(level));
  return [...kept, ...found.filter((level) => !kept.includes(level))];
}

/** Numbers ascending by value before words in alphabetical order. */
export function sortLevels(levels: string[]): string[] {
  return [...levels].sort((a, b) => {
    const [x, y] = [Number(a), Number(b)];
    if (!Number.isNaN(x) && !Number.isNaN(y)) return x - y || (a < b ? -1 : 1);
    if (Number.isNaN(x) !== Number.isNaN(y)) return Number.isNaN(x) ? 1 : -1;
    return a < b ? -1 : a > b ? 1 : 0;
  });
}

/** What a file's cells become under an entry: how many are read, not known, or not readable. */
export interface Understanding {
  read: number;
  missing: number;
  /** Cells that are neither of the kind nor declared missing; they will be stored as not known. */
  unreadable: number;
  /** A few of them. */
  examples: string[];
}

/** What `entry` would make of the column that `tally` counted. Counts are exact for coded cells
 * and declared codes up to the tally's limit of different values. */
export function understand(tally: ColumnTally, entry: Reading): Understanding {
  const isMissing = missingTest(entry);
  let declared = 0;
  let declaredReadable = 0;
  let renamed = 0;
  const examples: string[] = [];
  const readable = readableBy(entry);
  for (const [value, count] of tally.distinct) {
    if (isMissing(value)) {
      declared += count;
      if (readable(value)) declaredReadable += count;
    } else if (!readable(value)) {
      if (examples.length < 5) examples.push(value);
    } else if (entry.kind === 'yes/no' && readYesNo(value) === undefined) renamed += count;
  }
  const present = tally.rows - tally.empty;
  const read = readableCells(tally, entry, present) + renamed - declaredReadable;
  return {
    read,
    missing: tally.empty + declared,
    unreadable: present - declared - read,
    examples,
  };
}

/** Whether an entry's codes say that a cell is not known; numbers are compared as numbers. */
function missingTest({ kind, format, missingCodes }: Reading): (cell: string) => boolean {
  const codes = new Set(isCoded(kind) ? missingCodes.map(plainSpelling) : missingCodes);
  if (isCoded(kind)) return (cell) => codes.has(plainSpelling(cell));
  if (kind !== 'number') return (cell) => codes.has(cell);
  const numbers = new Set(
    missingCodes.flatMap((code) => [readNumber(code, format), readNumber(code)]),
  );
  numbers.delete(NaN);
  return (cell) => codes.has(cell) || numbers.has(readNumber(cell, format));
}

/** Least and greatest of what the entry reads; undefined where it reads no number or date. */
export function readEnds(tally: ColumnTally, entry: Reading): [number, number] | undefined {
  const { least, most } = waysToRead(tally, entry);
  return least === null || most === null ? undefined : [least, most];
}

function readableCells(tally: ColumnTally, entry: Reading, present: number): number {
  if (entry.kind === 'number') return waysToRead(tally, entry).cells;
  if (entry.kind === 'date') return waysToRead(tally, entry).cells;
  return entry.kind === 'yes/no' ? tally.yesNo : present;
}

function waysToRead(tally: ColumnTally, { kind, format }: Reading) {
  if (kind === 'date') {
    if (format === 'day first') return tally.dayFirst;
    return format === 'month first' ? tally.monthFirst : tally.days;
  }
  return format === 'decimal comma' ? tally.commas : tally.points;
}

function readableBy(entry: Reading): (value: string) => boolean {
  if (entry.kind === 'number') return (value) => !Number.isNaN(readNumber(value, entry.format));
  if (entry.kind === 'date') return (value) => !Number.isNaN(readDay(value, entry.format));
  return (value) => levelOf(value, entry) !== undefined;
}
