import { and, asc, eq, inArray, isNull, ne, sql } from 'drizzle-orm';
import { createHash } from 'node:crypto';
import {
  ColumnBuilder,
  display,
  isCoded,
  lengthOf,
  readingOf,
  readsAlike,
  showValue,
  summarise,
  type Column,
  type ColumnSummary,
  type Dictionary,
  type DictionaryEntry,
  type Table,
} from '@rook-scale/core/table';
import { db, tables } from './database/index.ts';
import { bytesPerRow, chunkRows, fromChunks, readDelimited, toChunks } from './files/index.ts';
import { notFound, Problem } from './problem.ts';
import { followReading } from './reading-progress.ts';
import { keptUpload, uploadContent } from './uploads.ts';

export type CohortPurpose = 'development' | 'screening';

/** What the interface knows of a cohort. */
export interface CohortInfo {
  id: string;
  studyId: string;
  purpose: CohortPurpose;
  name: string;
  rowCount: number;
  version: number;
  dictionary: Dictionary;
  summaries: ColumnSummary[];
  uploadId: string;
  file: { name: string; size: number; sha256: string };
  createdAt: Date;
}

/** Reads the upload as the dictionary says and stores it, column by column, as a cohort. */
export async function createCohort(
  studyId: string,
  purpose: CohortPurpose,
  name: string,
  uploadId: string,
  dictionary: Dictionary,
  signal?: AbortSignal,
): Promise<string> {
  if (purpose === 'development' && dictionary.length < 2)
    throw new Problem(
      422,
      'one-column',
      `The file is read as one column, ${dictionary[0].name}: an outcome and at least one predictor are needed. Perhaps another mark parts its cells. Nothing was stored.`,
    );
  const read = await readUpload(uploadId, dictionary, signal);
  return db().transaction(async (tx) => {
    const [{ id }] = await tx
      .insert(tables.cohort)
      .values({
        studyId,
        purpose,
        name,
        uploadId,
        rowCount: read.rowCount,
        dictionary: read.dictionary,
        summaries: read.columns.map(summarise),
      })
      .returning({ id: tables.cohort.id });
    await storeColumns(tx, id, 1, read.columns);
    return id;
  });
}

/**
 * Puts a mended dictionary in force. Only when it reads some column another way is the kept file
 * read again, and only those columns are stored anew.
 */
export async function rereadCohort(cohortId: string, dictionary: Dictionary): Promise<void> {
  const cohort = await cohortInfo(cohortId);
  checkDictionary(dictionary);
  const before = new Map(cohort.dictionary.map((entry, i) => [entry.name, { entry, i }]));
  const other = dictionary.filter((entry) => {
    const known = before.get(entry.name);
    return !known || !readsAlike(known.entry, entry);
  });
  const samePlaces =
    dictionary.length === cohort.dictionary.length &&
    dictionary.every((entry, i) => cohort.dictionary[i].name === entry.name);
  if (samePlaces && other.length === 0) {
    await db().update(tables.cohort).set({ dictionary }).where(eq(tables.cohort.id, cohortId));
    return;
  }
  const changed = samePlaces ? other : dictionary;
  const read = await readUpload(cohort.uploadId, changed);
  const positions = changed.map((entry) => dictionary.indexOf(entry));
  const summaries = samePlaces ? [...cohort.summaries] : [];
  const mended = [...dictionary];
  positions.forEach((position, i) => {
    summaries[position] = summarise(read.columns[i]);
    mended[position] = read.dictionary[i];
  });
  const version = cohort.version + 1;
  await db().transaction(async (tx) => {
    const { columnChunk } = tables;
    const stale = and(eq(columnChunk.cohortId, cohortId), ne(columnChunk.version, version));
    await storeColumns(tx, cohortId, version, read.columns, positions);
    if (samePlaces)
      await tx
        .delete(columnChunk)
        .where(and(stale, inArray(columnChunk.columnPosition, positions)));
    else await tx.delete(columnChunk).where(stale);
    await tx.update(columnChunk).set({ version }).where(stale);
    await tx
      .update(tables.cohort)
      .set({ version, dictionary: mended, summaries })
      .where(eq(tables.cohort.id, cohortId));
  });
}

type Transaction = Parameters<Parameters<ReturnType<typeof db>['transaction']>[0]>[0];

async function storeColumns(
  tx: Transaction,
  cohortId: string,
  version: number,
  columns: Column[],
  positions = columns.map((_, position) => position),
) {
  for (const [i, columnPosition] of positions.entries()) {
    const chunks = toChunks(columns[i]);
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

async function readUpload(uploadId: string, dictionary: Dictionary, signal?: AbortSignal) {
  checkDictionary(dictionary);
  let places: number[] = [];
  const { reading, rowCount: rowsTotal } = await keptUpload(uploadId);
  const builders = dictionary.map((entry) => new ColumnBuilder(entry, rowsTotal));
  const progress = followReading(uploadId, rowsTotal);
  const { rowCount } = await readDelimited(
    uploadContent(uploadId, signal),
    {
      header(names) {
        places = dictionary.map((entry) => names.indexOf(entry.name));
        const absent = dictionary.find((_, i) => places[i] < 0);
        if (absent)
          throw new Problem(422, 'column-absent', `The file has no column "${absent.name}".`);
      },
      row(cells) {
        for (let i = 0; i < builders.length; i++) builders[i].add(cells[places[i]] ?? '');
        progress.row();
      },
    },
    reading,
  ).finally(progress.end);
  const columns = builders.map((builder) => builder.result());
  return {
    rowCount,
    columns,
    dictionary: dictionary.map((entry, i) => withLevels(entry, columns[i])),
  };
}

function withLevels(entry: DictionaryEntry, column: Column): DictionaryEntry {
  const { levels: _, ...rest } = entry;
  return column.type === 'coded' ? { ...rest, levels: column.levels } : rest;
}

function checkDictionary(dictionary: Dictionary): void {
  const outcomes = dictionary.filter((entry) => entry.role === 'outcome');
  const identifiers = dictionary.filter((entry) => entry.role === 'identifier');
  const say = (sentence: string) => new Problem(422, 'dictionary', sentence);
  if (outcomes.length > 1)
    throw say(
      `A study has one outcome, but ${outcomes.map((entry) => entry.name).join(' and ')} are marked. Set the others aside.`,
    );
  if (identifiers.length > 1)
    throw say(
      `Only one column can be the identifier, but ${identifiers.map((entry) => entry.name).join(' and ')} are marked.`,
    );
}

export async function cohortInfo(id: string): Promise<CohortInfo> {
  const [found] = await selectCohorts(eq(tables.cohort.id, id));
  if (!found) throw notFound('The cohort');
  return found;
}

/** The development cohort of a study, if there is one yet. */
export async function developmentCohort(studyId: string): Promise<CohortInfo | undefined> {
  const [found] = await selectCohorts(
    and(eq(tables.cohort.studyId, studyId), eq(tables.cohort.purpose, 'development')),
  );
  return found;
}

export async function screeningCohorts(studyId: string): Promise<CohortInfo[]> {
  return selectCohorts(
    and(eq(tables.cohort.studyId, studyId), eq(tables.cohort.purpose, 'screening')),
  );
}

async function selectCohorts(where: ReturnType<typeof and>): Promise<CohortInfo[]> {
  const found = await db()
    .select()
    .from(tables.cohort)
    .innerJoin(tables.upload, eq(tables.upload.id, tables.cohort.uploadId))
    .where(and(where, isNull(tables.cohort.deletedAt)))
    .orderBy(asc(tables.cohort.createdAt));
  return found.map(({ cohort, upload }) => ({
    ...cohort,
    file: { name: upload.fileName, size: upload.size, sha256: upload.sha256 },
  }));
}

/** Columns of a cohort in memory; all of them, or only those named. */
export async function loadTable(cohort: CohortInfo, names?: string[]): Promise<Table> {
  const places = cohort.dictionary.flatMap((entry, position) =>
    !names || names.includes(entry.name) ? [position] : [],
  );
  const columns: Column[] = [];
  for (const place of places) columns.push(await loadColumn(cohort, place));
  return {
    rowCount: cohort.rowCount,
    dictionary: places.map((place) => cohort.dictionary[place]),
    columns,
  };
}

async function loadColumn(cohort: CohortInfo, position: number): Promise<Column> {
  const chunks = await db()
    .select({ content: tables.columnChunk.content })
    .from(tables.columnChunk)
    .where(
      and(
        eq(tables.columnChunk.cohortId, cohort.id),
        eq(tables.columnChunk.version, cohort.version),
        eq(tables.columnChunk.columnPosition, position),
      ),
    )
    .orderBy(asc(tables.columnChunk.chunkPosition));
  const entry = cohort.dictionary[position];
  const column = fromChunks(
    storedType(entry),
    chunks.map((chunk) => chunk.content),
    entry.levels,
  );
  if (lengthOf(column) !== cohort.rowCount)
    throw new Problem(
      409,
      'read-meanwhile',
      `${display(entry)} was read in another way while it was being used. Nothing is lost; try again.`,
    );
  return column;
}

/** These rows as text, one list a row in the order of the dictionary. Reads only the bytes it needs. */
export async function readRows(cohort: CohortInfo, rows: number[]): Promise<string[][]> {
  const cells = rows.map(() => new Array<string>(cohort.dictionary.length).fill(''));
  const chunkPositions = [...new Set(rows.map((row) => Math.floor(row / chunkRows)))];
  for (const chunkPosition of chunkPositions) {
    const first = chunkPosition * chunkRows;
    const wanted = rows.flatMap((row, place) =>
      Math.floor(row / chunkRows) === chunkPosition ? [{ row: row - first, place }] : [],
    );
    const least = Math.min(...wanted.map(({ row }) => row));
    const most = Math.max(...wanted.map(({ row }) => row));
    const slices = await readSlices(cohort, chunkPosition, least, most - least + 1);
    for (const { columnPosition, content } of slices) {
      const entry = cohort.dictionary[columnPosition];
      const type = storedType(entry);
      const column = fromChunks(type, [content], entry.levels);
      const start = type === 'text' ? 0 : least;
      for (const { row, place } of wanted)
        cells[place][columnPosition] = showValue(column, row - start, entry.kind === 'date');
    }
  }
  return cells;
}

async function readSlices(cohort: CohortInfo, chunkPosition: number, from: number, count: number) {
  const groups = (['number', 'coded', 'text'] as const).map((type) => ({
    width: bytesPerRow(type),
    positions: cohort.dictionary.flatMap((entry, i) => (storedType(entry) === type ? [i] : [])),
  }));
  const reads = groups
    .filter(({ positions }) => positions.length > 0)
    .map(({ width, positions }) =>
      db()
        .select({
          columnPosition: tables.columnChunk.columnPosition,
          content: width
            ? sql<Buffer>`substring(${tables.columnChunk.content} from ${from * width + 1} for ${count * width})`
            : tables.columnChunk.content,
        })
        .from(tables.columnChunk)
        .where(
          and(
            eq(tables.columnChunk.cohortId, cohort.id),
            eq(tables.columnChunk.version, cohort.version),
            eq(tables.columnChunk.chunkPosition, chunkPosition),
            inArray(tables.columnChunk.columnPosition, positions),
          ),
        ),
    );
  return (await Promise.all(reads)).flat();
}

function storedType(entry: DictionaryEntry): Column['type'] {
  if (isCoded(entry.kind)) return 'coded';
  return entry.kind === 'text' ? 'text' : 'number';
}

/** Changes when a fit on this cohort could give other numbers. */
export function cohortFingerprint(cohort: CohortInfo): string {
  const read = cohort.dictionary.map(readingOf);
  const identifier = cohort.dictionary.find((entry) => entry.role === 'identifier')?.name;
  return createHash('sha256')
    .update(JSON.stringify([cohort.id, cohort.file.sha256, identifier ?? null, read]))
    .digest('hex');
}
