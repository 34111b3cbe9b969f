import type { ColumnSummary, Dictionary, DictionaryEntry } from '../table/index.ts';

/** Names of what patients are treated in, in the usual words (common practice). */
const groupWords =
  /(^|[^a-z])(hospitals?|sites?|centres?|centers?|clinics?|practices?|trusts?|regions?|countr(y|ies)|institutions?|units?|wards?|departments?|clusters?|famil(y|ies)|matched.?set|strat(um|a))([^a-z]|$)/;
/** Fewer rows in a group, on average, number visits or patients rather than hospitals. */
const fewestRowsInGroup = 5;

/**
 * The column that most likely names hospitals or other groups of patients: by its name, then set aside before
 * predictors, then by how few its groups are; undefined where none could be.
 *
 * @param summaries of the columns, in the order of the dictionary
 * @example likelyGroup of columns admission_no (text, 2,000 different), hospital (3 levels) and sex: hospital
 */
export function likelyGroup(
  dictionary: Dictionary,
  summaries: ColumnSummary[],
  rows: number,
  outcome?: string,
): string | undefined {
  const possible = dictionary.flatMap((entry, i) => {
    const groups = groupsOf(entry, summaries[i]);
    const known = rows - summaries[i].missing;
    if (entry.name === outcome || groups < 2 || groups * fewestRowsInGroup > known) return [];
    const named = [entry.name, entry.label].some((words) => groupWords.test(words.toLowerCase()));
    if (!named && entry.role !== 'set aside') return [];
    return [
      { name: entry.name, rank: [Number(!named), Number(entry.role !== 'set aside'), groups] },
    ];
  });
  possible.sort((a, b) => {
    const place = a.rank.findIndex((value, i) => value !== b.rank[i]);
    return place < 0 ? 0 : a.rank[place] - b.rank[place];
  });
  return possible[0]?.name;
}

/** How many groups a column makes; 0 where it cannot. */
function groupsOf({ kind, role }: DictionaryEntry, { counts, different }: ColumnSummary): number {
  if (role === 'identifier' || role === 'outcome' || role === 'number of patients') return 0;
  if (kind === 'text') return different ?? 0;
  return kind === 'category' ? (counts ?? []).filter((count) => count > 0).length : 0;
}
