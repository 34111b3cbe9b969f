import { defaultLevels, display, understand, type DictionaryEntry } from '@rook-scale/core/table';
import type { UploadReview } from '../../../contract/uploads.ts';
import { plural } from '../../../browser/format.ts';

/** The columns that have the same name in the second file, spaces and case aside. */
export function sameNames(own: DictionaryEntry[], theirs: string[]): Record<string, string> {
  const plain = (name: string) => name.trim().toLowerCase();
  const exact = new Set(theirs);
  const byPlain = new Map(theirs.map((name) => [plain(name), name]));
  const found: Record<string, string> = {};
  for (const { name } of own) {
    const their = exact.has(name) ? name : byPlain.get(plain(name));
    if (their !== undefined && !Object.values(found).includes(their)) found[name] = their;
  }
  return found;
}

/** Where a column of the second file, read as the dictionary says, holds what the first does not. */
export function differencesOf(
  review: UploadReview,
  own: DictionaryEntry[],
  columns: Record<string, string>,
): string[] {
  const byName = new Map(review.columns.map(({ tally }) => [tally.name, tally]));
  return own.flatMap((entry) => {
    const tally = byName.get(columns[entry.name] ?? '');
    if (!tally) return [];
    const { unreadable, examples } = understand(tally, entry);
    const levels = entry.levels ?? [];
    const fresh = entry.levels
      ? (defaultLevels(tally, entry) ?? []).filter((level) => !levels.includes(level))
      : [];
    return [
      ...(unreadable > 0
        ? [
            `${display(entry)}: ${plural(unreadable, 'cell')} cannot be read as ${kindWords[entry.kind] ?? entry.kind} (${examples.slice(0, 3).join(', ')}) and will be not known.`,
          ]
        : []),
      ...(fresh.length > 0
        ? [
            `${display(entry)}: ${fresh.slice(0, 4).join(', ')}${fresh.length > 4 ? ' and others are levels' : fresh.length > 1 ? ' are levels' : ' is a level'} that the first file does not have.`,
          ]
        : []),
    ];
  });
}

const kindWords: Partial<Record<DictionaryEntry['kind'], string>> = {
  number: 'a number',
  date: 'a date',
  'yes/no': 'yes or no',
};
