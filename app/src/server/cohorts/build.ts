import { and, eq, gte, inArray, ne, or } from 'drizzle-orm';
import {
  columnReferences,
  deriveColumn,
  DerivedColumnError,
  FormulaError,
} from '@rook-scale/core/formula';
import {
  everybody,
  keepsAll,
  selectRows,
  type Flow,
  type Selection,
} from '@rook-scale/core/selection';
import {
  pickRows,
  readsAlike,
  summarise,
  type Column,
  type ColumnSummary,
  type Dictionary,
  type DictionaryEntry,
  type Table,
} from '@rook-scale/core/table';
import { db, tables } from '../database/index.ts';
import { asBytes, toChunks } from '../files/index.ts';
import { Problem } from '../problem.ts';
import { followReading } from '../reading-progress.ts';
import { keptUpload } from '../uploads.ts';
import { checkDictionary, identifiersAsText, letOthers, readUpload } from './read-upload.ts';
import { cohortInfo, type CohortInfo, type CohortPurpose } from './info.ts';
import { keptRows, loadStored } from './load.ts';

/** Reads the upload as the dictionary says and stores it, column by column, as a cohort. */
export async function createCohort(
  studyId: string,
  purpose: CohortPurpose,
  name: string,
  uploadId: string,
  given: Dictionary,
  signal?: AbortSignal,
): Promise<string> {
  const dictionary = identifiersAsText(given);
  if (purpose === 'development' && dictionary.length < 2)
    throw new Problem(
      422,
      'one-column',
      `The file is read as one column, ${dictionary[0].name}: an outcome and at least one predictor are needed. Perhaps another mark parts its cells. Nothing was stored.`,
    );
  checkDictionary(dictionary);
  const { rowCount } = await keptUpload(uploadId);
  const progress = followReading(uploadId, rowCount);
  try {
    // Reading is about half of the work, storing the other half.
    const read = await readUpload(uploadId, fileEntries(dictionary), {
      signal,
      done: (share) => progress.to(share / 2),
    });
    const table = deriveAll(
      { rowCount: read.rowCount, dictionary: read.dictionary, columns: read.columns },
      dictionary.filter(({ formula }) => formula),
    );
    return await store(
      { studyId, purpose, name, uploadId },
      table,
      (share) => progress.to((1 + share) / 2),
      signal,
    );
  } finally {
    progress.end();
  }
}

async function store(
  about: { studyId: string; purpose: CohortPurpose; name: string; uploadId: string },
  { rowCount, dictionary, columns }: Table,
  done: (share: number) => void,
  signal: AbortSignal | undefined,
): Promise<string> {
  const summaries: ColumnSummary[] = [];
  for (const column of columns) {
    summaries.push(summarise(column));
    await letOthers(signal);
  }
  return db().transaction(async (tx) => {
    const [{ id }] = await tx
      .insert(tables.cohort)
      .values({
        ...about,
        rowCount,
        storedRows: rowCount,
        selection: everybody,
        flow: { came: rowCount, steps: [] },
        dictionary,
        summaries,
      })
      .returning({ id: tables.cohort.id });
    for (const [i, column] of columns.entries()) {
      await storeColumns(tx, id, 1, new Map([[i, column]]));
      done((i + 1) / columns.length);
      await letOthers(signal);
    }
    return id;
  });
}

/**
 * Puts a mended dictionary and a selection of patients in force. The kept file is read again only
 * for columns that are read another way; derived columns follow what they are worked out from.
 */
export async function rereadCohort(
  cohortId: string,
  wanted: Dictionary,
  selection?: Selection,
): Promise<void> {
  const cohort = await cohortInfo(cohortId);
  const chosen = selection ?? cohort.selection;
  checkDictionary(wanted);
  const dictionary = identifiersAsText([
    ...fileEntries(wanted),
    ...wanted.filter(({ formula }) => formula),
  ]);
  const changed = await changedColumns(cohort, dictionary);
  const samePlaces =
    dictionary.length === cohort.dictionary.length &&
    dictionary.every((entry, i) => cohort.dictionary[i].name === entry.name);
  const mended = dictionary.map((entry) => changed.get(entry.name)?.entry ?? entry);
  const chooses = await selectAnew(cohort, mended, chosen, changed);
  if (samePlaces && changed.size === 0 && !chooses) {
    await db().update(tables.cohort).set({ dictionary }).where(eq(tables.cohort.id, cohortId));
    return;
  }
  const summaries = await summariesAfter(cohort, mended, changed, chooses);
  const version = cohort.version + 1;
  const positions = new Map<number, Column>();
  mended.forEach((entry, i) => {
    const column = changed.get(entry.name)?.column;
    if (column) positions.set(i, column);
  });
  await db().transaction(async (tx) => {
    const { columnChunk } = tables;
    const stale = and(eq(columnChunk.cohortId, cohortId), ne(columnChunk.version, version));
    await storeColumns(tx, cohortId, version, positions);
    const replaced = [...positions.keys()];
    await tx
      .delete(columnChunk)
      .where(
        and(
          stale,
          or(
            gte(columnChunk.columnPosition, mended.length),
            replaced.length > 0 ? inArray(columnChunk.columnPosition, replaced) : undefined,
          ),
        ),
      );
    await tx.update(columnChunk).set({ version }).where(stale);
    await tx
      .update(tables.cohort)
      .set({
        version,
        dictionary: mended,
        summaries,
        selection: chosen,
        ...(chooses && {
          rowCount: chooses.rows?.length ?? cohort.storedRows,
          kept: chooses.rows ? asBytes(chooses.rows) : null,
          flow: chooses.flow,
        }),
      })
      .where(eq(tables.cohort.id, cohortId));
  });
}

type Changed = Map<string, { entry: DictionaryEntry; column: Column }>;

/** The columns that hold something else than what is stored at their place. */
async function changedColumns(cohort: CohortInfo, dictionary: Dictionary): Promise<Changed> {
  const before = new Map(cohort.dictionary.map((entry, i) => [entry.name, { entry, i }]));
  const stays = (entry: DictionaryEntry, i: number) => {
    const known = before.get(entry.name);
    return known !== undefined && known.i === i && readsAlike(known.entry, entry);
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
    const same = known?.i === i && known.entry.formula === entry.formula;
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
): Promise<{ rows: Int32Array | undefined; flow: Flow } | undefined> {
  const same = JSON.stringify(selection) === JSON.stringify(cohort.selection);
  if (keepsAll(selection))
    return same ? undefined : { rows: undefined, flow: { came: cohort.storedRows, steps: [] } };
  const identifier = (list: Dictionary) => list.find(({ role }) => role === 'identifier')?.name;
  const sameIdentifier = identifier(dictionary) === identifier(cohort.dictionary);
  if (same && changed.size === 0 && sameIdentifier) return undefined;
  const names = readBySelection(selection, dictionary);
  const table = await tableOf(cohort, dictionary, names, changed);
  try {
    const { rows, flow } = selectRows(table, selection);
    if (rows.length === 0)
      throw new Problem(
        422,
        'nobody-left',
        'With this nobody would be left. Nothing was changed; loosen a condition.',
      );
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

/** @param chooses who is in from now on; undefined where that stays as it was */
async function summariesAfter(
  cohort: CohortInfo,
  dictionary: Dictionary,
  changed: Changed,
  chooses: { rows: Int32Array | undefined } | undefined,
): Promise<ColumnSummary[]> {
  const kept = chooses ? chooses.rows : await keptRows(cohort);
  const summaries: ColumnSummary[] = [];
  for (const entry of dictionary) {
    const place = cohort.dictionary.findIndex(({ name }) => name === entry.name);
    const fresh = changed.get(entry.name)?.column;
    if (!fresh && !chooses) summaries.push(cohort.summaries[place]);
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

type Transaction = Parameters<Parameters<ReturnType<typeof db>['transaction']>[0]>[0];

/** Stores columns under their positions. */
async function storeColumns(
  tx: Transaction,
  cohortId: string,
  version: number,
  columns: Map<number, Column>,
) {
  for (const [columnPosition, column] of columns) {
    const chunks = toChunks(column);
    if (chunks.length > 0)
      await tx.insert(tables.columnChunk).values(
        chunks.map((content, chunkPosition) => ({
          cohortId,
          version,
          columnPosition,
          chunkPosition,
          content,
        })),
      );
  }
}
