import { createHash } from 'node:crypto';
import { and, asc, eq, lt, notExists, sql } from 'drizzle-orm';
import {
  ColumnCells,
  proposeEntries,
  type ColumnTally,
  type Proposal,
} from '@rook-scale/core/table';
import { db, tables } from './database/index.ts';
import {
  readDelimited,
  readTableFile,
  sniffFormat,
  type KeptFile,
  type Reading,
  type Remark,
  type RowReader,
  type TableRead,
} from './files/index.ts';
import { cellMemory, keepCells } from './kept-cells.ts';
import { notFound, Problem } from './problem.ts';

/** Largest file taken, in bytes. */
export const uploadLimit = 500 * 1024 * 1024;

const chunkBytes = 1024 * 1024;
const rowsShown = 60;

/** A file as understood, before anything of it becomes a cohort. */
export interface UploadReview {
  id: string;
  fileName: string;
  size: number;
  rowCount: number;
  /** How its bytes were taken as a table. */
  reading: Reading;
  columns: { tally: ColumnTally; proposal: Proposal }[];
  /** The first rows as text, in the order of `columns`. */
  firstRows: string[][];
  remarks: Remark[];
}

type Kept = Omit<typeof tables.upload.$inferSelect, 'sha256' | 'createdAt'>;

/** Keeps the file as it comes in and, in the same pass, counts what its columns hold. */
export async function receiveUpload(
  content: AsyncIterable<Uint8Array>,
  fileName: string,
): Promise<UploadReview> {
  const [{ id }] = await db()
    .insert(tables.upload)
    .values({
      fileName,
      size: 0,
      sha256: '',
      reading: { delimiter: ',', encoding: 'utf-8', leaveOutLast: 0 },
      rowCount: 0,
      tallies: [],
      firstRows: [],
      remarks: [],
    })
    .returning({ id: tables.upload.id });
  try {
    return await readInto(id, content, fileName);
  } catch (error) {
    await db().delete(tables.upload).where(eq(tables.upload.id, id));
    throw error;
  }
}

async function readInto(
  id: string,
  content: AsyncIterable<Uint8Array>,
  fileName: string,
): Promise<UploadReview> {
  const keeper = new ChunkKeeper(id);
  const incoming = keeper.keep(content);
  const first = await incoming.next();
  const start = first.done ? new Uint8Array() : first.value;
  let seen: Surveyed;
  if (sniffFormat(start) === undefined)
    // Text is understood while it comes in.
    seen = await survey((reader) => readDelimited(following(start, incoming), reader));
  else {
    await drained(incoming);
    const file = keptFile(id, keeper.size);
    seen = await survey((reader) => readTableFile(file, reader));
  }
  const kept = { ...recordOf(seen), size: keeper.size };
  await db()
    .update(tables.upload)
    .set({ ...kept, sha256: keeper.hash.digest('hex') })
    .where(eq(tables.upload.id, id));
  keepCells(id, seen.cells, seen.rowCount);
  return review({ ...kept, id, fileName });
}

/** Takes the kept bytes anew under another reading, before anything is made of them. */
export async function readUploadAnew(id: string, wanted: Partial<Reading>): Promise<UploadReview> {
  const kept = await keptUpload(id);
  const [used] = await db()
    .select({ id: tables.cohort.id })
    .from(tables.cohort)
    .where(eq(tables.cohort.uploadId, id))
    .limit(1);
  if (used)
    throw new Problem(
      409,
      'in-use',
      'A cohort was made of this file as it is read now. Bring the file in again to read it another way.',
    );
  const file = keptFile(id, kept.size);
  const seen = await survey((reader) => readTableFile(file, reader, wanted));
  const record = recordOf(seen);
  await db().update(tables.upload).set(record).where(eq(tables.upload.id, id));
  keepCells(id, seen.cells, seen.rowCount);
  return review({ ...kept, ...record });
}

/** Takes in what is left, which keeps it. */
async function drained(incoming: AsyncGenerator<Uint8Array>): Promise<void> {
  let { done } = await incoming.next();
  while (!done) ({ done } = await incoming.next());
}

async function* following(
  first: Uint8Array,
  rest: AsyncIterable<Uint8Array>,
): AsyncGenerator<Uint8Array> {
  yield first;
  yield* rest;
}

type Surveyed = TableRead & { cells: Map<string, ColumnCells>; firstRows: string[][] };

/** One pass over a file: how it is read, and what its columns hold. */
async function survey(read: (reader: RowReader) => Promise<TableRead>): Promise<Surveyed> {
  let columns: ColumnCells[] = [];
  let names: string[] = [];
  let rows = 0;
  const firstRows: string[][] = [];
  const file = await read({
    header(found) {
      names = found;
      columns = names.map((name) => new ColumnCells(name));
    },
    row(cells) {
      for (let i = 0; i < columns.length; i++) columns[i].add(cells[i] ?? '');
      if (firstRows.length < rowsShown) firstRows.push(columns.map((_, i) => cells[i] ?? ''));
      if (++rows % 65_536 === 0) mindMemory(columns);
    },
  });
  return { ...file, cells: new Map(names.map((name, i) => [name, columns[i]])), firstRows };
}

/** Lets the cells of a file go that are more than can be kept; they are counted all the same. */
function mindMemory(columns: ColumnCells[]): void {
  const bytes = columns.reduce((sum, column) => sum + column.bytes, 0);
  if (bytes > cellMemory) for (const column of columns) column.forget();
}

/** What is written down of a file that was understood. */
function recordOf({ cells, ...seen }: Surveyed) {
  return { ...seen, tallies: [...cells.values()].map((column) => column.tally()) };
}

/** What an upload looks like, from what was kept of it. */
export async function reviewUpload(id: string): Promise<UploadReview> {
  return review(await keptUpload(id));
}

/** Gives an upload other remarks. */
export async function keepRemarks(id: string, remarks: Remark[]): Promise<UploadReview> {
  await db().update(tables.upload).set({ remarks }).where(eq(tables.upload.id, id));
  return reviewUpload(id);
}

/** What is kept of an upload, besides its bytes. */
export async function keptUpload(id: string) {
  const [kept] = await db().select().from(tables.upload).where(eq(tables.upload.id, id));
  if (!kept) throw notFound('The file');
  return kept;
}

function review(kept: Kept): UploadReview {
  const { id, fileName, size, rowCount, reading, tallies, firstRows, remarks } = kept;
  const proposals = proposeEntries(tallies);
  const columns = tallies.map((tally, i) => ({ tally, proposal: proposals[i] }));
  return { id, fileName, size, rowCount, reading, columns, firstRows, remarks };
}

/** The bytes of an upload, as they came; ends with a Problem when `signal` is aborted. */
export async function* uploadContent(id: string, signal?: AbortSignal): AsyncGenerator<Uint8Array> {
  const where = eq(tables.uploadChunk.uploadId, id);
  const places = await db()
    .select({ position: tables.uploadChunk.position })
    .from(tables.uploadChunk)
    .where(where)
    .orderBy(asc(tables.uploadChunk.position));
  for (const { position } of places) {
    if (signal?.aborted) throw new Problem(409, 'cancelled', 'Cancelled. Nothing was stored.');
    const [chunk] = await db()
      .select({ content: tables.uploadChunk.content })
      .from(tables.uploadChunk)
      .where(and(where, eq(tables.uploadChunk.position, position)));
    yield chunk.content;
  }
}

/** The kept bytes of an upload, to be read in order or from anywhere. */
export function keptFile(id: string, size: number, signal?: AbortSignal): KeptFile {
  return {
    size,
    stream: () => uploadContent(id, signal),
    slice: (from, to) => uploadSlice(id, from, to),
  };
}

/** Where each chunk of an upload begins; chunks differ in length. */
async function uploadSlice(id: string, from: number, to: number): Promise<Uint8Array> {
  const { uploadChunk } = tables;
  const chunks = await db()
    .select({
      position: uploadChunk.position,
      length: sql<number>`octet_length(${uploadChunk.content})`,
    })
    .from(uploadChunk)
    .where(eq(uploadChunk.uploadId, id))
    .orderBy(asc(uploadChunk.position));
  const pieces: Uint8Array[] = [];
  let begins = 0;
  for (const { position, length } of chunks) {
    const [start, end] = [Math.max(from, begins), Math.min(to, begins + length)];
    if (start < end) {
      const [{ content }] = await db()
        .select({
          content: sql<Buffer>`substring(${uploadChunk.content} from ${start - begins + 1} for ${end - start})`,
        })
        .from(uploadChunk)
        .where(and(eq(uploadChunk.uploadId, id), eq(uploadChunk.position, position)));
      pieces.push(content);
    }
    begins += length;
  }
  return Buffer.concat(pieces);
}

/** Forgets files that were never made a cohort, a day after they came. */
export async function forgetOldUploads(): Promise<void> {
  await db()
    .delete(tables.upload)
    .where(
      and(
        lt(tables.upload.createdAt, sql`now() - interval '1 day'`),
        notExists(
          db()
            .select({ one: sql`1` })
            .from(tables.cohort)
            .where(eq(tables.cohort.uploadId, tables.upload.id)),
        ),
      ),
    );
}

/** Chunks on their way to the database while the next ones are read. */
const underWayAtMost = 3;

/** Passes bytes on while it stores them in chunks, counts and hashes them. */
class ChunkKeeper {
  size = 0;
  readonly hash = createHash('sha256');
  private position = 0;
  private waiting: Uint8Array[] = [];
  private waitingBytes = 0;
  private readonly underWay = new Set<Promise<void>>();
  private failed: unknown;

  constructor(private readonly uploadId: string) {}

  async *keep(content: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
    for await (const piece of content) {
      this.size += piece.length;
      if (this.size > uploadLimit)
        throw new Problem(
          413,
          'file-too-large',
          `The file is larger than ${uploadLimit / 1024 / 1024} MB. Nothing was stored; split it or leave out columns.`,
        );
      this.hash.update(piece);
      this.waiting.push(piece);
      this.waitingBytes += piece.length;
      if (this.waitingBytes >= chunkBytes) await this.store();
      yield piece;
    }
    if (this.waitingBytes > 0) await this.store();
    await Promise.all(this.underWay);
    this.throwWhatFailed();
  }

  /** Sends a chunk off; waits only where several are on their way already. */
  private async store(): Promise<void> {
    this.throwWhatFailed();
    const content = Buffer.concat(this.waiting);
    this.waiting = [];
    this.waitingBytes = 0;
    const sending = db()
      .insert(tables.uploadChunk)
      .values({ uploadId: this.uploadId, position: this.position++, content })
      .then(
        () => undefined,
        (error: unknown) => {
          this.failed ??= error;
        },
      )
      .finally(() => this.underWay.delete(sending));
    this.underWay.add(sending);
    if (this.underWay.size >= underWayAtMost) await Promise.race(this.underWay);
  }

  private throwWhatFailed(): void {
    if (this.failed !== undefined) throw this.failed as Error;
  }
}
