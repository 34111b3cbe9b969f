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
import { copyRows, db, tables } from '../database/index.ts';
import { asIntegers, bytesPerRow, chunkRows, ColumnAssembler, fromChunk } from '../files/index.ts';
import { Problem } from '../problem.ts';
import { sharedColumn } from '../shared-arrays.ts';
import { cachedColumns } from './column-cache.ts';
import type { CohortInfo } from './info.ts';

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
  if (cohort.rowCount === cohort.storedRows) return undefined;
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
    sql`select ${columnChunk.columnPosition}, ${columnChunk.chunkPosition}, ${columnChunk.content}
      from ${columnChunk}
      where ${columnChunk.cohortId} = ${cohort.id} and ${columnChunk.version} = ${cohort.version}
        and ${columnChunk.columnPosition} in (${sql.join(places, sql`, `)})`,
  );
  for await (const [columnPosition, chunkPosition, content] of chunks)
    assemblers.get(columnPosition.readInt32BE())?.add(chunkPosition.readInt32BE(), content);
  return places.map((place) => {
    const column = assemblers.get(place)!.result();
    if (!column) throw readMeanwhile(display(cohort.dictionary[place]));
    return column;
  });
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
      const column = fromChunk(type, content, entry.levels);
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
