import { sortedPresent, sortedQuantile } from '../../numeric/index.ts';
import type { CodedColumn, Column, NumberColumn } from '../../table/index.ts';
import type { Finding } from './finding.ts';

/** What is odd about the values of one column. */
export function findOddValues(name: string, column: Column): Finding[] {
  if (column.type === 'text') return [];
  return column.type === 'number' ? oddNumbers(name, column) : oddLevels(name, column);
}

function oddNumbers(name: string, column: NumberColumn): Finding[] {
  const sorted = sortedPresent(column.values);
  if (sorted.length === 0) return [];
  if (sorted[0] === sorted[sorted.length - 1]) return [constant(name, sorted.length)];
  return [
    ...identifierLike(name, column, sorted),
    ...zeros(name, sorted),
    ...numberCodes(name, sorted),
  ];
}

const constant = (name: string, patients: number): Finding => ({
  code: 'constant',
  columns: [name],
  values: [],
  figures: { patients },
});

/**
 * Whole numbers that hardly ever occur twice, and are numbers in a series: without large gaps, rising
 * through the file, or all of the same five digits or more. A measurement is none of these.
 */
function identifierLike(name: string, { values }: NumberColumn, sorted: Float64Array): Finding[] {
  if (sorted.length < 50 || !sorted.every(Number.isInteger)) return [];
  const different = countDifferent(sorted);
  if (different < 0.95 * sorted.length) return [];
  const [least, most] = [sorted[0], sorted[sorted.length - 1]];
  const dense = most - least + 1 <= 1.5 * sorted.length;
  const long = least >= 10_000 && String(least).length === String(most).length;
  if (!dense && !long && !risesThroughout(values)) return [];
  return [
    {
      code: 'identifier-like',
      columns: [name],
      values: [],
      figures: { different, patients: sorted.length },
    },
  ];
}

function risesThroughout(values: Float64Array): boolean {
  let last = -Infinity;
  for (const value of values) {
    if (Number.isNaN(value)) continue;
    if (value <= last) return false;
    last = value;
  }
  return true;
}

/** Fewer different values than this are a count or a score, in which 0 has its place. */
const measuredFrom = 20;

/** Zeros far below an otherwise positive column: a body that is alive has no albumin of 0. */
function zeros(name: string, sorted: Float64Array): Finding[] {
  if (sorted[0] !== 0) return [];
  const first = sorted.findIndex((value) => value > 0);
  const positive = sorted.subarray(first);
  const least = positive[0];
  const usual = sortedQuantile(positive, 0.5);
  // A count may be 0, and so may a lab near its detection limit: the gap below the rest decides.
  if (first > 0.2 * sorted.length || positive.length < 20 || least < 0.25 * usual) return [];
  if (countDifferent(positive) < measuredFrom) return [];
  if (sorted.every(Number.isInteger) && least <= 2) return [];
  return [
    {
      code: 'implausible zeros',
      columns: [name],
      values: ['0'],
      figures: { patients: first, least },
    },
  ];
}

const commonCodes = [-1, -8, -9, -99, -999, 9, 88, 98, 99, 888, 998, 999, 8888, 9998, 9999, 99999];

/** A customary code at the end of the column, repeated, and far from every other value. */
function numberCodes(name: string, sorted: Float64Array): Finding[] {
  const ends = new Set([sorted[0], sorted[sorted.length - 1]]);
  return commonCodes.flatMap((code): Finding[] => {
    if (!ends.has(code)) return [];
    const rest = sorted.filter((value) => value !== code);
    const patients = sorted.length - rest.length;
    if (patients < 2 || rest.length < 20) return [];
    const nearest = code > rest[0] ? rest[rest.length - 1] : rest[0];
    const spread = sortedQuantile(rest, 0.99) - sortedQuantile(rest, 0.01);
    const belowAll = code < 0 && rest[0] >= 0;
    if (!belowAll && Math.abs(code - nearest) < 0.5 * spread) return [];
    return [
      {
        code: 'code for missing',
        columns: [name],
        values: [String(code)],
        figures: { patients, nearest },
      },
    ];
  });
}

const unknownWords =
  /^(unknown|unk|not known|n\.?k\.?|not done|not recorded|missing|refused|declined|unclear|unbekannt|inconnu)$/i;

function oddLevels(name: string, column: CodedColumn): Finding[] {
  const counts = new Array<number>(column.levels.length).fill(0);
  let patients = 0;
  for (const code of column.codes)
    if (code >= 0) {
      counts[code]++;
      patients++;
    }
  const used = column.levels.filter((_, code) => counts[code] > 0);
  if (used.length === 1) return [constant(name, patients)];
  const countOf = (level: string) => counts[column.levels.indexOf(level)];
  return [...levelCodes(name, used, countOf), ...spelledTwice(name, used, countOf)];
}

/** A level that says "unknown", or a customary code beside consecutive small numbers (1, 2, 3, 9). */
function levelCodes(name: string, used: string[], countOf: (level: string) => number): Finding[] {
  const numbers = used.map(Number).filter(Number.isInteger);
  return used.flatMap((level): Finding[] => {
    const value = Number(level);
    const others = numbers.filter((one) => one !== value);
    const apart =
      commonCodes.includes(value) &&
      others.length >= 2 &&
      others.length === used.length - 1 &&
      (value < 0 ? Math.min(...others) >= 0 : value > Math.max(...others) + 1);
    if (!apart && !unknownWords.test(level)) return [];
    return [
      {
        code: 'code for missing',
        columns: [name],
        values: [level],
        figures: { patients: countOf(level) },
      },
    ];
  });
}

/**
 * Levels that differ only in capitals, spaces, accents or punctuation, or by a slip of the keyboard; the most frequent
 * comes first.
 */
function spelledTwice(name: string, used: string[], countOf: (level: string) => number): Finding[] {
  const groups = new Map<string, string[]>();
  for (const level of used) {
    const plain = plainLetters(level);
    groups.set(plain, [...(groups.get(plain) ?? []), level]);
  }
  const total = (levels: string[]) => levels.reduce((sum, level) => sum + countOf(level), 0);
  const common = [...groups.entries()].sort(([, a], [, b]) => total(b) - total(a));
  for (const [plain, levels] of common.toReversed()) {
    const meant = common.find(
      ([other, frequent]) =>
        groups.has(other) && total(levels) <= rareShare * total(frequent) && isSlip(plain, other),
    );
    if (!meant) continue;
    meant[1].push(...levels);
    groups.delete(plain);
  }
  return [...groups.values()]
    .filter((levels) => levels.length > 1)
    .map((levels): Finding => {
      const values = [...levels].sort((a, b) => countOf(b) - countOf(a));
      const patients = values.slice(1).reduce((sum, level) => sum + countOf(level), 0);
      return { code: 'spelled twice', columns: [name], values, figures: { patients } };
    });
}

const plainLetters = (level: string): string =>
  level
    .normalize('NFD')
    .toLowerCase()
    // Between letters a hyphen joins words; in A- and <5 such marks are the value.
    .replace(/(?<=\p{L})-(?=\p{L})/gu, '')
    .replace(/[^\p{L}\p{N}<>=+-]/gu, '');

/** A level with more patients than this, beside a similar one, is more likely another level. */
const rareShare = 0.05;
const shortestWord = 5;

/**
 * Whether a word may be a slip for another: one letter too many, too few or wrong, or two neighbours exchanged
 * (Damerau 1964, Communications of the ACM 7:171-176: four fifths of all misspellings). Words with digits, and words
 * that differ at their end, where grades and plurals do, are not judged.
 */
function isSlip(word: string, other: string): boolean {
  if (!/^\p{L}+$/u.test(word + other)) return false;
  if (Math.min(word.length, other.length) < shortestWord) return false;
  let start = 0;
  while (start < word.length && word[start] === other[start]) start++;
  let [end, otherEnd] = [word.length, other.length];
  while (end > start && otherEnd > start && word[end - 1] === other[otherEnd - 1]) {
    end--;
    otherEnd--;
  }
  const [left, otherLeft] = [word.slice(start, end), other.slice(start, otherEnd)];
  const exchanged =
    left.length === 2 && otherLeft.length === 2 && left === otherLeft[1] + otherLeft[0];
  // Two neighbours exchanged at the end are no grade: "bening".
  if (exchanged) return true;
  return left.length <= 1 && otherLeft.length <= 1 && end < word.length;
}

function countDifferent(sorted: Float64Array): number {
  let different = 1;
  for (let i = 1; i < sorted.length; i++) if (sorted[i] !== sorted[i - 1]) different++;
  return different;
}
