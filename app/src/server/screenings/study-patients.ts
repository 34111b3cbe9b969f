import { side } from '@rook-scale/core/design';
import { isMissing, showValue, type DictionaryEntry, type Table } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import type { StudyPatients } from '../../contract/screenings.ts';
import { cohortFingerprint, developmentCohort, loadTable } from '../cohorts/index.ts';
import { currentDesign } from '../design-in-force.ts';
import { divisionOf } from '../division-of.ts';

/** The side of the study on which each row of a list stands; -1 for whoever is not of the study. */
export interface SidesInList extends StudyPatients {
  sides: Int8Array;
}

/** By list and study as they are now. */
const known = new Map<string, SidesInList | null>();
const mostKnown = 20;

/**
 * Values identify a patient if at least `least` columns are shared; the `most` most varied are compared. Longer lists
 * are not compared by values. Where identifiers were found too, `distinct` of the study's rows must differ from all
 * others, so that a new patient is not taken for one of the study.
 */
const byValues = { most: 12, least: 4, rows: 200_000, distinct: 0.9 };

/**
 * Finds the patients of the study in a list, by identifier and by values that no other row of the study and no other
 * row of the list has: identifiers may be absent, renamed, or numbered again from 1. Where both find a row, the more
 * closed side counts. Undefined where the study is not split, or nobody is found.
 */
export async function studyPatientsIn(list: CohortInfo): Promise<SidesInList | undefined> {
  const [study, design] = await Promise.all([
    developmentCohort(list.studyId),
    currentDesign(list.studyId),
  ]);
  if (!study || !design?.divisionId || design.patients !== cohortFingerprint(study))
    return undefined;
  const key = [cohortFingerprint(list), cohortFingerprint(study), design.divisionId].join(' ');
  const there = known.get(key);
  if (there !== undefined) return there ?? undefined;
  const { sides } = await divisionOf(design.divisionId);
  const found = await find(list, study, sides);
  if (known.size >= mostKnown) known.clear();
  known.set(key, found ?? null);
  return found;
}

async function find(
  list: CohortInfo,
  study: CohortInfo,
  sides: Uint8Array,
): Promise<SidesInList | undefined> {
  const byIdentifier = await findByIdentifier(list, study, sides);
  const isFound = byIdentifier?.some((one) => one >= 0) ?? false;
  const byValue = await findByValues(list, study, sides, isFound ? byValues.distinct : 0);
  const found = new Int8Array(list.rowCount).fill(-1);
  let isByValues = false;
  for (let row = 0; row < found.length; row++) {
    const [one, other] = [byIdentifier?.[row] ?? -1, byValue?.[row] ?? -1];
    found[row] = closer(one, other);
    isByValues ||= found[row] !== one;
  }
  const count = (wanted: number) => found.reduce((n, one) => n + Number(one === wanted), 0);
  const counts = {
    development: count(side.development),
    heldOut: count(side.heldOut),
    sealed: count(side.sealed),
  };
  if (counts.development + counts.heldOut + counts.sealed === 0) return undefined;
  const by = !isByValues ? 'identifier' : isFound ? 'identifier and values' : 'values';
  return { by, ...counts, sides: found };
}

/** The side of each row by its identifier; undefined where list or study has none. */
async function findByIdentifier(
  list: CohortInfo,
  study: CohortInfo,
  sides: Uint8Array,
): Promise<Int8Array | undefined> {
  const [inList, inStudy] = [identifierOf(list), identifierOf(study)];
  if (!inList || !inStudy) return undefined;
  const [ofList, ofStudy] = await Promise.all([
    loadTable(list, [inList.name]),
    loadTable(study, [inStudy.name]),
  ]);
  const rows = rowsByKey(ofStudy);
  return Int8Array.from({ length: list.rowCount }, (_, row) => {
    // A patient with rows on several sides counts as the most closed of them.
    const there = rows.get(keyOf(ofList, row) ?? '') ?? [];
    return there.map((place) => sides[place]).reduce(closer, -1);
  });
}

/** The side of each row by its values; undefined where too little is shared, or where values are too common. */
async function findByValues(
  list: CohortInfo,
  study: CohortInfo,
  sides: Uint8Array,
  distinct: number,
): Promise<Int8Array | undefined> {
  const names = sharedColumns(list, study);
  if (names.length < byValues.least || list.rowCount > byValues.rows) return undefined;
  const [ofList, ofStudy] = await Promise.all([loadTable(list, names), loadTable(study, names)]);
  const rows = rowsByKey(ofStudy);
  const single = [...rows.values()].filter(({ length }) => length === 1).length;
  if (single < distinct * study.rowCount) return undefined;
  const listed = rowsByKey(ofList);
  return Int8Array.from({ length: list.rowCount }, (_, row) => {
    const key = keyOf(ofList, row);
    const there = key === undefined ? undefined : rows.get(key);
    return there?.length === 1 && listed.get(key!)!.length === 1 ? sides[there[0]] : -1;
  });
}

const closedness: number[] = [-1, side.unused, side.development, side.heldOut, side.sealed];
const closer = (a: number, b: number) => (closedness.indexOf(a) > closedness.indexOf(b) ? a : b);

const identifierOf = ({ dictionary }: CohortInfo): DictionaryEntry | undefined =>
  dictionary.find(({ role }) => role === 'identifier');

/** Columns that both have, identifiers apart, those with most different values first. */
function sharedColumns(list: CohortInfo, study: CohortInfo): string[] {
  const there = new Map(list.dictionary.map((entry) => [entry.name, entry]));
  return study.dictionary
    .map((entry, i) => ({ entry, distinct: variety(study.summaries[i], study.rowCount) }))
    .filter(({ entry }) => entry.role !== 'identifier' && !entry.formula)
    .filter(({ entry }) => there.get(entry.name)?.kind === entry.kind)
    .sort((a, b) => b.distinct - a.distinct)
    .slice(0, byValues.most)
    .map(({ entry }) => entry.name);
}

/** How many different values a column may have. */
const variety = ({ different, counts }: CohortInfo['summaries'][number], rows: number) =>
  different ?? counts?.length ?? rows;

function rowsByKey(table: Table): Map<string, number[]> {
  const rows = new Map<string, number[]>();
  for (let row = 0; row < table.rowCount; row++) {
    const key = keyOf(table, row);
    if (key === undefined) continue;
    const there = rows.get(key);
    if (there) there.push(row);
    else rows.set(key, [row]);
  }
  return rows;
}

/** What a row is told by: all its values; undefined where too few of them are known. */
function keyOf({ columns, dictionary }: Table, row: number): string | undefined {
  const present = columns.filter((column) => !isMissing(column, row)).length;
  if (present < Math.min(columns.length, byValues.least)) return undefined;
  return columns
    .map((column, i) => showValue(column, row, dictionary[i].kind === 'date').trim())
    .join('\u001f');
}
