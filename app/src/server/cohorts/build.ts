import { randomUUID } from 'node:crypto';
import { and, eq, gte, inArray, ne, or } from 'drizzle-orm';
import {
  columnReferences,
  deriveColumn,
  DerivedColumnError,
  FormulaError,
} from '@rook-scale/core/formula';
import {
  CountError,
  everybody,
  keepsAll,
  selectRows,
  standFor,
  type Flow,
  type Selection,
} from '@rook-scale/core/selection';
import {
  display,
  pickRows,
  readsAlike,
  summarise,
  type Column,
  type ColumnSummary,
  type Dictionary,
  type DictionaryEntry,
  type Role,
  type Table,
} from '@rook-scale/core/table';
import type { Match } from '@rook-scale/core/screening';
import type { CohortInfo, CohortPurpose } from '../../contract/cohorts.ts';
import { db, tables } from '../ground/database/index.ts';
import { asBytes, toChunks } from '../files/index.ts';
import { Problem } from '../ground/problem.ts';
import { keptUpload, type Following } from '../intake/index.ts';
import { checkDictionary, identifiersAsText, letOthers, readUpload } from './read-upload.ts';
import { askAboutLostCells } from './lost-cells.ts';
import { keptRows, loadStored, loadTable, readMeanwhile } from './load.ts';

/**
 * A cohort as it will be, read and worked out but not written yet: all that takes long is done
 * before anything changes.
 */
export interface PlannedCohort {
  after: CohortInfo;
  /** Its patients; all columns, or only those named. */
  table: (names?: string[]) => Promise<Table>;
  /** Row of the file of each patient, from 0; undefined where every row is one. */
  fileRows: () => Promise<Int32Array | undefined>;
  /** Puts it in force, as part of the change at hand. */
  write: () => Promise<void>;
}

/** What a new cohort is to be. */
export interface NewCohort {
  studyId: string;
  purpose: CohortPurpose;
  name: string;
  uploadId: string;
  dictionary: Dictionary;
  matching: Match[];
}

/** Reads the upload as the dictionary says, for a new cohort. */
export async function planCohort(
  { dictionary: given, ...about }: NewCohort,
  { signal, done = () => {} }: Following,
): Promise<PlannedCohort> {
  const dictionary = identifiersAsText(given);
  if (about.purpose === 'development' && dictionary.length < 2)
    throw new Problem(
      422,
      'one-column',
      `The file is read as one column, ${dictionary[0].name}: an outcome and at least one predictor are needed. Perhaps another mark parts its cells. Nothing was stored.`,
    );
  checkDictionary(dictionary);
  const upload = await keptUpload(about.uploadId);
  // Reading is about half of the work, storing the other half.
  const read = await readUpload(about.uploadId, fileEntries(dictionary), {
    signal,
    done: (share) => done(share / 2),
  });
  const table = deriveAll(
    { rowCount: read.rowCount, dictionary: read.dictionary, columns: read.columns },
    dictionary.filter(({ formula }) => formula),
  );
  const standing = countPatients(table);
  const kept = standing?.rows;
  const summaries = kept
    ? table.columns.map((column) => summarise(pickRows(column, kept)))
    : [
        ...read.summaries,
        ...table.columns.slice(read.columns.length).map((column) => summarise(column)),
      ];
  const after: CohortInfo = {
    ...about,
    id: randomUUID(),
    second: null,
    rowCount: kept?.length ?? table.rowCount,
    storedRows: table.rowCount,
    selection: everybody,
    flow: { came: table.rowCount, steps: [], ...(standing && { stand: standing.stand }) },
    version: 1,
    dictionary: table.dictionary,
    summaries,
    file: { name: upload.fileName, size: upload.size, sha256: upload.sha256 },
    createdAt: new Date().toISOString(),
  };
  return {
    after,
    table: (names) => Promise.resolve(patientsOf(only(table, names), kept)),
    fileRows: () => Promise.resolve(kept),
    write: () => store(after, kept, table.columns, (share) => done((1 + share) / 2), signal),
  };
}

/** The named columns of a table. */
function only({ rowCount, dictionary, columns }: Table, names: string[] | undefined): Table {
  const wanted = names && new Set(names);
  const places = [...dictionary.keys()].filter((i) => !wanted || wanted.has(dictionary[i].name));
  return {
    rowCount,
    dictionary: places.map((i) => dictionary[i]),
    columns: places.map((i) => columns[i]),
  };
}

const patientsOf = (table: Table, kept: Int32Array | undefined): Table =>
  kept
    ? {
        ...table,
        rowCount: kept.length,
        columns: table.columns.map((column) => pickRows(column, kept)),
      }
    : table;

/** Whom the rows of a grouped table stand for; undefined where each row is a patient. */
function countPatients(
  { dictionary, columns, rowCount }: Table,
  among: Int32Array = Int32Array.from({ length: rowCount }, (_, row) => row),
): { rows: Int32Array; stand: Flow['stand'] } | undefined {
  const place = dictionary.findIndex(({ role }) => role === 'number of patients');
  if (place < 0) return undefined;
  try {
    const { rows, unknown } = standFor(among, dictionary[place], columns[place]);
    if (rows.length === 0) throw nobodyLeft();
    return { rows, stand: { by: display(dictionary[place]), patients: rows.length, unknown } };
  } catch (error) {
    if (error instanceof CountError) throw new Problem(422, 'no-number-of-patients', error.message);
    throw error;
  }
}

const nobodyLeft = () =>
  new Problem(
    422,
    'nobody-left',
    'With this nobody would be left. Nothing was changed; loosen a condition.',
  );

async function store(
  cohort: CohortInfo,
  kept: Int32Array | undefined,
  columns: readonly Column[],
  done: (share: number) => void,
  signal: AbortSignal | undefined,
): Promise<void> {
  const { file: _, createdAt, ...row } = cohort;
  await db()
    .insert(tables.cohort)
    .values({ ...row, createdAt: new Date(createdAt), kept: kept ? asBytes(kept) : null });
  for (const [i, column] of columns.entries()) {
    await storeColumns(cohort.id, 1, new Map([[i, column]]));
    done((i + 1) / columns.length);
    await letOthers(signal);
  }
}

/** The file that a cohort is read from, and what of it is a second file. */
export type ReadFrom = Pick<CohortInfo, 'uploadId' | 'second'>;

/**
 * A cohort under a mended dictionary and a selection of patients. The kept file is read again only
 * for columns that are read another way; derived columns follow what they are worked out from.
 *
 * @param file where it is another than the cohort is read from: then every column is read from it
 */
export async function planReading(
  before: CohortInfo,
  wanted: Dictionary,
  selection?: Selection,
  file?: ReadFrom,
): Promise<PlannedCohort> {
  const another = file !== undefined && file.uploadId !== before.uploadId;
  const cohort = another ? await readFrom(before, file) : before;
  const chosen = selection ?? cohort.selection;
  checkDictionary(wanted);
  const dictionary = identifiersAsText([
    ...fileEntries(wanted),
    ...wanted.filter(({ formula }) => formula),
  ]);
  const changed = await changedColumns(cohort, dictionary, another);
  const samePlaces =
    dictionary.length === cohort.dictionary.length &&
    dictionary.every((entry, i) => cohort.dictionary[i].name === entry.name);
  const mended = dictionary.map((entry) => changed.get(entry.name)?.entry ?? entry);
  const chooses = await selectAnew(cohort, mended, chosen, changed, another);
  if (samePlaces && changed.size === 0 && !chooses) {
    const after = { ...cohort, dictionary };
    return {
      after,
      table: (names) => loadTable(after, names),
      fileRows: () => keptRows(cohort),
      write: () => putDown(cohort, { dictionary }),
    };
  }
  const kept = chooses ? chooses.rows : await keptRows(cohort);
  const after: CohortInfo = {
    ...cohort,
    version: cohort.version + 1,
    dictionary: mended,
    summaries: await summariesAfter(cohort, mended, changed, kept, chooses !== undefined),
    selection: chosen,
    ...(chooses && {
      rowCount: chooses.rows?.length ?? cohort.storedRows,
      flow: chooses.flow,
    }),
  };
  askAboutLostCells(before, after);
  return {
    after,
    async table(names) {
      const read = names ?? mended.map(({ name }) => name);
      const whole = await tableOf(cohort, mended, read, changed);
      const { columns } = only(whole, names);
      return {
        rowCount: after.rowCount,
        dictionary: only({ ...whole, columns: [] }, names).dictionary,
        columns: kept ? columns.map((column) => pickRows(column, kept)) : columns,
      };
    },
    fileRows: () => Promise.resolve(kept),
    write: () => replace(cohort, after, changed, chooses && { kept: chooses.rows }),
  };
}

/** The cohort with another file under it, of which nothing is stored yet. */
async function readFrom(cohort: CohortInfo, { uploadId, second }: ReadFrom): Promise<CohortInfo> {
  const { rowCount, fileName: name, size, sha256 } = await keptUpload(uploadId);
  return { ...cohort, uploadId, second, storedRows: rowCount, file: { name, size, sha256 } };
}

/** Puts changed columns beside those that stay, under the next version. */
async function replace(
  before: CohortInfo,
  after: CohortInfo,
  changed: Changed,
  chooses: { kept: Int32Array | undefined } | undefined,
): Promise<void> {
  const { id, version, dictionary, summaries, selection, rowCount, flow } = after;
  const { uploadId, second, storedRows } = after;
  // First of all, so that whoever planned on the same version too ends here.
  await putDown(before, {
    version,
    dictionary,
    summaries,
    selection,
    uploadId,
    second,
    storedRows,
    ...(chooses && { rowCount, kept: chooses.kept ? asBytes(chooses.kept) : null, flow }),
  });
  const positions = new Map<number, Column>();
  dictionary.forEach((entry, i) => {
    const column = changed.get(entry.name)?.column;
    if (column) positions.set(i, column);
  });
  const { columnChunk } = tables;
  const stale = and(eq(columnChunk.cohortId, id), ne(columnChunk.version, version));
  await storeColumns(id, version, positions);
  const replaced = [...positions.keys()];
  await db()
    .delete(columnChunk)
    .where(
      and(
        stale,
        or(
          gte(columnChunk.columnPosition, dictionary.length),
          replaced.length > 0 ? inArray(columnChunk.columnPosition, replaced) : undefined,
        ),
      ),
    );
  await db().update(columnChunk).set({ version }).where(stale);
}

/** Writes what has changed of a cohort, unless it is another by now than the plan was made on. */
async function putDown(
  { id, version, name }: CohortInfo,
  values: Partial<typeof tables.cohort.$inferInsert>,
): Promise<void> {
  const [written] = await db()
    .update(tables.cohort)
    .set(values)
    .where(and(eq(tables.cohort.id, id), eq(tables.cohort.version, version)))
    .returning({ id: tables.cohort.id });
  if (!written) throw readMeanwhile(name);
}

type Changed = Map<string, { entry: DictionaryEntry; column: Column }>;

/**
 * The columns that hold something else than what is stored at their place.
 *
 * @param all where nothing is stored of the file that they are read from
 */
async function changedColumns(
  cohort: CohortInfo,
  dictionary: Dictionary,
  all: boolean,
): Promise<Changed> {
  const before = new Map(cohort.dictionary.map((entry, i) => [entry.name, { entry, i }]));
  const stays = (entry: DictionaryEntry, i: number) => {
    const known = before.get(entry.name);
    return !all && known?.i === i && readsAlike(known.entry, entry);
  };
  const changed: Changed = new Map();
  const files = fileEntries(dictionary);
  const anew = files.filter((entry, i) => !stays(entry, i));
  if (anew.length > 0) {
    const read = await readUpload(cohort.uploadId, anew);
    read.dictionary.forEach((entry, i) =>
      changed.set(entry.name, { entry, column: read.columns[i] }),
    );
  }
  for (const [i, entry] of dictionary.entries()) {
    if (!entry.formula) continue;
    const reads = referencesOf(entry);
    // Kind and levels of a derived column come from its formula, never from outside.
    const known = before.get(entry.name);
    const same = !all && known?.i === i && known.entry.formula === entry.formula;
    if (same && !reads.some((name) => changed.has(name))) continue;
    const earlier = dictionary.slice(0, i).map((one) => changed.get(one.name)?.entry ?? one);
    const table = await tableOf(cohort, earlier, reads, changed);
    const derived = derive(entry, table);
    changed.set(entry.name, derived);
  }
  return changed;
}

/**
 * A new dictionary with the columns that are read, some as stored, some just changed. The others are
 * there by name alone, so that a formula that misspells one can be told which it means.
 */
async function tableOf(
  cohort: CohortInfo,
  dictionary: Dictionary,
  names: string[],
  changed: Changed,
): Promise<Table> {
  const stored = await loadStored(
    cohort,
    names.filter((name) => !changed.has(name)),
  );
  const columns = dictionary.map(({ name }): Column => {
    const place = stored.dictionary.findIndex((entry) => entry.name === name);
    const fresh = changed.get(name)?.column;
    return fresh ?? (place < 0 ? unread : stored.columns[place]);
  });
  return { rowCount: cohort.storedRows, dictionary, columns };
}

/** Stands for a column that nobody reads. */
const unread: Column = { type: 'number', values: new Float64Array() };

/** Who is in, worked out again where that could change; undefined where it cannot. */
async function selectAnew(
  cohort: CohortInfo,
  dictionary: Dictionary,
  selection: Selection,
  changed: Changed,
  otherFile: boolean,
): Promise<{ rows: Int32Array | undefined; flow: Flow } | undefined> {
  const same = !otherFile && JSON.stringify(selection) === JSON.stringify(cohort.selection);
  const marked = (list: Dictionary, role: Role) => list.find((entry) => entry.role === role)?.name;
  const counts = marked(dictionary, 'number of patients');
  const sameCounts = counts === marked(cohort.dictionary, 'number of patients');
  if (keepsAll(selection) && counts === undefined)
    return same && sameCounts
      ? undefined
      : { rows: undefined, flow: { came: cohort.storedRows, steps: [] } };
  const sameIdentifier =
    marked(dictionary, 'identifier') === marked(cohort.dictionary, 'identifier');
  if (same && changed.size === 0 && sameIdentifier && sameCounts) return undefined;
  const names = [...readBySelection(selection, dictionary), ...(counts ? [counts] : [])];
  const table = await tableOf(cohort, dictionary, names, changed);
  try {
    const { rows, flow } = selectRows(table, selection);
    if (rows.length === 0) throw nobodyLeft();
    const standing = countPatients(table, rows);
    if (standing) return { rows: standing.rows, flow: { ...flow, stand: standing.stand } };
    return { rows: rows.length === cohort.storedRows ? undefined : rows, flow };
  } catch (error) {
    if (error instanceof FormulaError)
      throw new Problem(422, 'condition', `An exclusion cannot be carried out: ${error.message}`);
    throw error;
  }
}

function readBySelection({ duplicates, exclusions }: Selection, dictionary: Dictionary): string[] {
  if (duplicates?.by === 'all values') return dictionary.map(({ name }) => name);
  const identifier = dictionary.find(({ role }) => role === 'identifier');
  if (duplicates && !identifier)
    throw new Problem(
      422,
      'no-identifier',
      'No column is the identifier, so the same patient cannot be told. Give one that role, or go by all values.',
    );
  const read = exclusions.flatMap(({ condition }) => references(condition));
  return duplicates && identifier ? [...read, identifier.name] : read;
}

function references(text: string): string[] {
  try {
    return columnReferences(text);
  } catch {
    // What is wrong is said where the condition is carried out.
    return [];
  }
}

/**
 * @param kept who is in; undefined for all
 * @param othersIn whether these are others than before
 */
async function summariesAfter(
  cohort: CohortInfo,
  dictionary: Dictionary,
  changed: Changed,
  kept: Int32Array | undefined,
  othersIn: boolean,
): Promise<ColumnSummary[]> {
  const summaries: ColumnSummary[] = [];
  for (const entry of dictionary) {
    const place = cohort.dictionary.findIndex(({ name }) => name === entry.name);
    const fresh = changed.get(entry.name)?.column;
    if (!fresh && !othersIn) summaries.push(cohort.summaries[place]);
    else {
      const column = fresh ?? (await loadStored(cohort, [entry.name])).columns[0];
      summaries.push(summarise(kept ? pickRows(column, kept) : column));
    }
  }
  return summaries;
}

const fileEntries = (dictionary: Dictionary) => dictionary.filter(({ formula }) => !formula);

function referencesOf({ formula }: DictionaryEntry): string[] {
  return references(formula!);
}

/** The table with its derived columns behind it, each worked out from what stands before it. */
function deriveAll(table: Table, derived: DictionaryEntry[]): Table {
  const dictionary = [...table.dictionary];
  const columns = [...table.columns];
  for (const entry of derived) {
    const made = derive(entry, { rowCount: table.rowCount, dictionary, columns });
    dictionary.push(made.entry);
    columns.push(made.column);
  }
  return { rowCount: table.rowCount, dictionary, columns };
}

function derive(entry: DictionaryEntry, table: Table) {
  try {
    return deriveColumn(entry, table);
  } catch (error) {
    if (error instanceof DerivedColumnError)
      throw new Problem(
        422,
        'formula',
        `${error.column} cannot be worked out: ${error.fault} Nothing was changed.`,
      );
    throw error;
  }
}

/** Stores columns under their positions. */
async function storeColumns(cohortId: string, version: number, columns: Map<number, Column>) {
  for (const [columnPosition, column] of columns) {
    const chunks = toChunks(column);
    if (chunks.length > 0)
      await db()
        .insert(tables.columnChunk)
        .values(
          chunks.map((chunk, chunkPosition) => ({
            cohortId,
            version,
            columnPosition,
            chunkPosition,
            ...chunk,
          })),
        );
  }
}
