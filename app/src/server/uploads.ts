import { createHash } from 'node:crypto';
import { and, asc, eq, lt, notExists, sql } from 'drizzle-orm';
import {
  ColumnCounter,
  proposeEntry,
  type ColumnTally,
  type Proposal,
} from '@rook-scale/core/table';
import { db, tables } from './database/index.ts';
import { readDelimited } from './files/index.ts';
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
  columns: { tally: ColumnTally; proposal: Proposal }[];
  /** The first rows as text, in the order of `columns`. */
  firstRows: string[][];
  remarks: string[];
}

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
      delimiter: '',
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
  let counters: ColumnCounter[] = [];
  const firstRows: string[][] = [];
  const file = await readDelimited(keeper.keep(content), {
    header(names) {
      counters = names.map((name) => new ColumnCounter(name));
    },
    row(cells) {
      for (let i = 0; i < counters.length; i++) counters[i].add(cells[i] ?? '');
      if (firstRows.length < rowsShown) firstRows.push(counters.map((_, i) => cells[i] ?? ''));
    },
  });
  const tallies = counters.map((counter) => counter.result());
  await db()
    .update(tables.upload)
    .set({
      size: keeper.size,
      sha256: keeper.hash.digest('hex'),
      delimiter: file.delimiter,
      rowCount: file.rowCount,
      tallies,
      firstRows,
      remarks: file.remarks,
    })
    .where(eq(tables.upload.id, id));
  return review({
    id,
    fileName,
    size: keeper.size,
    rowCount: file.rowCount,
    tallies,
    firstRows,
    remarks: file.remarks,
  });
}

/** What an upload looks like, from what was kept of it. */
export async function reviewUpload(id: string): Promise<UploadReview> {
  const [kept] = await db().select().from(tables.upload).where(eq(tables.upload.id, id));
  if (!kept) throw notFound('The file');
  return review(kept);
}

function review(kept: {
  id: string;
  fileName: string;
  size: number;
  rowCount: number;
  tallies: ColumnTally[];
  firstRows: string[][];
  remarks: string[];
}): UploadReview {
  const { id, fileName, size, rowCount, tallies, firstRows, remarks } = kept;
  const columns = tallies.map((tally) => ({ tally, proposal: proposeEntry(tally) }));
  return { id, fileName, size, rowCount, columns, firstRows, remarks };
}

/** The bytes of an upload, as they came. */
export async function* uploadContent(id: string): AsyncGenerator<Uint8Array> {
  const where = eq(tables.uploadChunk.uploadId, id);
  const places = await db()
    .select({ position: tables.uploadChunk.position })
    .from(tables.uploadChunk)
    .where(where)
    .orderBy(asc(tables.uploadChunk.position));
  for (const { position } of places) {
    const [chunk] = await db()
      .select({ content: tables.uploadChunk.content })
      .from(tables.uploadChunk)
      .where(and(where, eq(tables.uploadChunk.position, position)));
    yield chunk.content;
  }
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

/** Passes bytes on while it stores them in chunks, counts and hashes them. */
class ChunkKeeper {
  size = 0;
  readonly hash = createHash('sha256');
  private position = 0;
  private waiting: Uint8Array[] = [];
  private waitingBytes = 0;

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
  }

  private async store(): Promise<void> {
    await db()
      .insert(tables.uploadChunk)
      .values({
        uploadId: this.uploadId,
        position: this.position++,
        content: Buffer.concat(this.waiting),
      });
    this.waiting = [];
    this.waitingBytes = 0;
  }
}
