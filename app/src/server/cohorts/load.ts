import { and, asc, eq, inArray, sql } from 'drizzle-orm';
import {
  display,
  isCoded,
  lengthOf,
  pickRows,
  showValue,
  type Column,
  type DictionaryEntry,
  type Table,
} from '@rook-scale/core/table';
import { db, tables } from '../database/index.ts';
import { asIntegers, bytesPerRow, chunkRows, fromChunks } from '../files/index.ts';
import { Problem } from '../problem.ts';
import type { CohortInfo } from './info.ts';

/** Columns of a cohort in memory; all of them, or only those named. Its patients only. */
export async function loadTable(cohort: CohortInfo, names?: string[]): Promise<Table> {
  const kept = await keptRows(cohort);
  const table = await loadStored(cohort, names);
  if (!kept) return table;
  return {
    ...table,
    rowCount: kept.length,
    columns: table.columns.map((column) => shared(pickRows(column, kept))),
  };
}

/** As `loadTable`, with every row of the file, excluded ones too. */
export async function loadStored(cohort: CohortInfo, names?: string[]): Promise<Table> {
  const places = cohort.dictionary.flatMap((entry, position) =>
    !names || names.includes(entry.name) ? [position] : [],
  );
  const columns: Column[] = [];
  for (const place of places) columns.push(await loadColumn(cohort, place));
  return {
    rowCount: cohort.storedRows,
    dictionary: places.map((place) => cohort.dictionary[place]),
    columns,
  };
}

/** The rows of the file that the selection leaves in; undefined for all. */
export async function keptRows(cohort: CohortInfo): Promise<Int32Array | undefined> {
  if (cohort.rowCount === cohort.storedRows) return undefined;
  const [found] = await db()
    .select({ kept: tables.cohort.kept, version: tables.cohort.version })
    .from(tables.cohort)
    .where(eq(tables.cohort.id, cohort.id));
  if (!found?.kept || found.version !== cohort.version) throw readMeanwhile(cohort.name);
  return asIntegers(found.kept);
}

/** Typed arrays in shared memory, ready for threads. */
function shared(column: Column): Column {
  if (column.type === 'text') return column;
  if (column.type === 'number') {
    const values = new Float64Array(new SharedArrayBuffer(column.values.byteLength));
    values.set(column.values);
    return { type: 'number', values };
  }
  const codes = new Int32Array(new SharedArrayBuffer(column.codes.byteLength));
  codes.set(column.codes);
  return { ...column, codes };
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
  if (lengthOf(column) !== cohort.storedRows) throw readMeanwhile(display(entry));
  return column;
}

const readMeanwhile = (what: string) =>
  new Problem(
    409,
    'read-meanwhile',
    `${what} was read in another way while it was being used. Nothing is lost; try again.`,
  );

/** These patients as text, one list each in the order of the dictionary. Reads only the bytes it needs. */
export async function readRows(cohort: CohortInfo, patients: number[]): Promise<string[][]> {
  const kept = await keptRows(cohort);
  const rows = kept ? patients.map((patient) => kept[patient]) : patients;
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

export function storedType(entry: DictionaryEntry): Column['type'] {
  if (isCoded(entry.kind)) return 'coded';
  return entry.kind === 'text' ? 'text' : 'number';
}
