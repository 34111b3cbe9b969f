import { readDay, readNumber, readYesNo } from './cell.ts';
import { isCoded, type DictionaryEntry } from './dictionary.ts';
import type { ColumnTally } from './tally.ts';

/** The two levels of every yes/no column. */
export const yesNoLevels = ['no', 'yes'];

/**
 * The levels a coded entry finds in the file, in an order that holds whatever the order of rows:
 * numbers by value, words by the alphabet. Undefined for kinds without levels.
 */
export function defaultLevels(
  tally: ColumnTally,
  entry: Pick<DictionaryEntry, 'kind' | 'missingCodes'>,
): string[] | undefined {
  if (!isCoded(entry.kind)) return undefined;
  if (entry.kind === 'yes/no') return yesNoLevels;
  const missing = new Set(entry.missingCodes);
  return sortLevels(tally.distinct.map(([value]) => value).filter((value) => !missing.has(value)));
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
export function understand(
  tally: ColumnTally,
  entry: Pick<DictionaryEntry, 'kind' | 'missingCodes'>,
): Understanding {
  const codes = new Set(entry.missingCodes);
  let declared = 0;
  let declaredReadable = 0;
  const examples: string[] = [];
  const readable = readableBy(entry.kind);
  for (const [value, count] of tally.distinct) {
    if (codes.has(value)) {
      declared += count;
      if (readable(value)) declaredReadable += count;
    } else if (!readable(value) && examples.length < 5) examples.push(value);
  }
  const present = tally.rows - tally.empty;
  const readableCells =
    entry.kind === 'number'
      ? tally.numbers
      : entry.kind === 'date'
        ? tally.days
        : entry.kind === 'yes/no'
          ? tally.yesNo
          : present;
  const read = readableCells - declaredReadable;
  return {
    read,
    missing: tally.empty + declared,
    unreadable: present - declared - read,
    examples,
  };
}

function readableBy(kind: DictionaryEntry['kind']): (value: string) => boolean {
  if (kind === 'number') return (value) => !Number.isNaN(readNumber(value));
  if (kind === 'date') return (value) => !Number.isNaN(readDay(value));
  if (kind === 'yes/no') return (value) => readYesNo(value) !== undefined;
  return () => true;
}
