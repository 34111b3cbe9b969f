import { and, eq, inArray, sql } from 'drizzle-orm';
import {
  display,
  isCoded,
  pickRows,
  showValue,
  type Column,
  type DictionaryEntry,
  type Table,
} from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { copyRows, db, tables } from '../ground/database/index.ts';
import { asIntegers, bytesPerRow, chunkRows, ColumnAssembler, fromChunk } from '../files/index.ts';
import { Problem } from '../ground/problem.ts';
import { sharedColumn } from '../shared-arrays.ts';
import { cachedColumns } from './column-cache.ts';

/** Columns of a cohort in memory; all of them, or only those named. Its patients only. */
export async function loadTable(cohort: CohortInfo, names?: string[]): Promise<Table> {
  const places = placesOf(cohort, names);
  const columns = await cachedColumns(cohort, places, async (absent) => {
    const kept = await keptRows(cohort);
    const stored = await loadColumns(cohort, absent);
    return kept ? stored.map((column) => sharedColumn(pickRows(column, kept))) : stored;
  });
  return {
    rowCount: cohort.rowCount,
    dictionary: places.map((place) => cohort.dictionary[place]),
    columns: columns.map((column, i) => withLevels(column, cohort.dictionary[places[i]])),
  };
}

/** As `loadTable`, with every row of the file, excluded ones too; nothing is kept in memory. */
export async function loadStored(cohort: CohortInfo, names?: string[]): Promise<Table> {
  const places = placesOf(cohort, names);
  return {
    rowCount: cohort.storedRows,
    dictionary: places.map((place) => cohort.dictionary[place]),
    columns: await loadColumns(cohort, places),
  };
}

function placesOf({ dictionary }: CohortInfo, names: string[] | undefined): number[] {
  const wanted = names && new Set(names);
  return [...dictionary.keys()].filter((place) => !wanted || wanted.has(dictionary[place].name));
}

/** The levels as the dictionary at hand has them. */
function withLevels(column: Column, { levels }: DictionaryEntry): Column {
  return column.type === 'coded' && levels ? { ...column, levels } : column;
}

/** The rows of the file that the selection leaves in; undefined for all. */
export async function keptRows(cohort: CohortInfo): Promise<Int32Array | undefined> {
  // A grouped table may by chance stand for as many patients as it has rows.
  if (cohort.rowCount === cohort.storedRows && !cohort.flow.stand) return undefined;
  const [found] = await db()
    .select({ kept: tables.cohort.kept, version: tables.cohort.version })
    .from(tables.cohort)
    .where(eq(tables.cohort.id, cohort.id));
  if (!found?.kept || found.version !== cohort.version) throw readMeanwhile(cohort.name);
  return asIntegers(found.kept);
}

/** The columns at these places, in shared memory where they are typed. */
async function loadColumns(cohort: CohortInfo, places: number[]): Promise<Column[]> {
  if (places.length === 0) return [];
  const assemblers = new Map(
    places.map((place) => {
      const entry = cohort.dictionary[place];
      return [place, new ColumnAssembler(storedType(entry), cohort.storedRows, entry.levels)];
    }),
  );
  const { columnChunk } = tables;
  const chunks = copyRows(
    sql`select ${columnChunk.columnPosition}, ${columnChunk.chunkPosition}, ${columnChunk.firstRow},
        ${columnChunk.content}
      from ${columnChunk}
      where ${columnChunk.cohortId} = ${cohort.id} and ${columnChunk.version} = ${cohort.version}
        and ${columnChunk.columnPosition} in (${sql.join(places, sql`, `)})`,
  );
  for await (const [columnPosition, chunkPosition, firstRow, content] of chunks)
    assemblers
      .get(columnPosition.readInt32BE())
      ?.add(chunkPosition.readInt32BE(), firstRow.readInt32BE(), content);
  return places.map((place) => {
    const column = assemblers.get(place)!.result();
    if (!column) throw readMeanwhile(display(cohort.dictionary[place]));
    return column;
  });
}

export const readMeanwhile = (what: string) =>
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
      const column = fromChunk(storedType(entry), content, entry.levels);
      for (const { row, place } of wanted)
        cells[place][columnPosition] = showValue(column, row - least, entry.kind === 'date');
    }
  }
  await readTexts(cohort, rows, cells);
  return cells;
}

/** Columns of a cohort by how they are stored. */
function positionsOf({ dictionary }: CohortInfo, type: Column['type']): number[] {
  return dictionary.flatMap((entry, i) => (storedType(entry) === type ? [i] : []));
}

async function readSlices(cohort: CohortInfo, chunkPosition: number, from: number, count: number) {
  const { columnChunk } = tables;
  const read = async (type: 'number' | 'coded') => {
    const positions = positionsOf(cohort, type);
    const width = bytesPerRow(type)!;
    if (positions.length === 0) return [];
    return db()
      .select({
        columnPosition: columnChunk.columnPosition,
        content: sql<Buffer>`substring(${columnChunk.content} from ${from * width + 1} for ${count * width})`,
      })
      .from(columnChunk)
      .where(
        and(
          inForce(cohort),
          eq(columnChunk.chunkPosition, chunkPosition),
          inArray(columnChunk.columnPosition, positions),
        ),
      );
  };
  return (await Promise.all([read('number'), read('coded')])).flat();
}

/** Chunks of texts hold so many characters, not so many rows: first it is found which are needed. */
async function readTexts(cohort: CohortInfo, rows: number[], cells: string[][]): Promise<void> {
  const positions = positionsOf(cohort, 'text');
  if (positions.length === 0 || rows.length === 0) return;
  const { columnPosition, firstRow, content } = tables.columnChunk;
  const ofTexts = and(inForce(cohort), inArray(columnPosition, positions));
  const begins = await db()
    .select({ columnPosition, firstRow })
    .from(tables.columnChunk)
    .where(ofTexts)
    .orderBy(columnPosition, firstRow);
  const needed = new Set<number>();
  for (const position of positions) {
    const starts = begins.filter((one) => one.columnPosition === position);
    for (const row of rows) {
      const start = starts.findLast((one) => one.firstRow <= row);
      if (start) needed.add(start.firstRow);
    }
  }
  if (needed.size === 0) return;
  const chunks = await db()
    .select({ columnPosition, firstRow, content })
    .from(tables.columnChunk)
    .where(and(ofTexts, inArray(firstRow, [...needed])));
  for (const chunk of chunks) {
    const column = fromChunk('text', chunk.content);
    const length = column.type === 'text' ? column.values.length : 0;
    rows.forEach((row, place) => {
      const at = row - chunk.firstRow;
      if (at >= 0 && at < length) cells[place][chunk.columnPosition] = showValue(column, at, false);
    });
  }
}

function inForce({ id, version }: CohortInfo) {
  return and(eq(tables.columnChunk.cohortId, id), eq(tables.columnChunk.version, version));
}

export function storedType(entry: DictionaryEntry): Column['type'] {
  if (isCoded(entry.kind)) return 'coded';
  return entry.kind === 'text' ? 'text' : 'number';
}
