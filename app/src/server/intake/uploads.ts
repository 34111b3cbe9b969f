import { createHash } from 'node:crypto';
import { and, eq, inArray, lt, notExists, or, sql } from 'drizzle-orm';
import { proposeEntries } from '@rook-scale/core/table';
import { type Reading, type Remark, type UploadReview } from '../../contract/uploads.ts';
import { db, tables } from '../ground/database/index.ts';
import { sniffFormat } from '../files/index.ts';
import { keepReader } from './kept-readers.ts';
import { Reader } from './reader.ts';
import type { Surveyed } from './reader-protocol.ts';
import { notFound, Problem } from '../ground/problem.ts';

/** Largest file taken, in bytes. */
export const uploadLimit = 500 * 1024 * 1024;

const chunkBytes = 1024 * 1024;

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
  const reader = new Reader();
  try {
    // Text is understood while it comes in, the other formats once all of it is there.
    const text = sniffFormat(start) === undefined;
    if (!text) await drained(incoming);
    const pieces = text ? following(start, incoming) : undefined;
    const seen = await reader.survey({ id, size: keeper.size }, {}, pieces);
    const kept = { ...recordOf(seen), size: keeper.size };
    await db()
      .update(tables.upload)
      .set({ ...kept, sha256: keeper.hash.digest('hex') })
      .where(eq(tables.upload.id, id));
    keepReader(id, reader);
    return review({ ...kept, id, fileName });
  } catch (error) {
    reader.end();
    throw error;
  }
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
  const reader = new Reader();
  try {
    const seen = await reader.survey({ id, size: kept.size }, wanted);
    const record = recordOf(seen);
    await db().update(tables.upload).set(record).where(eq(tables.upload.id, id));
    keepReader(id, reader);
    return review({ ...kept, ...record });
  } catch (error) {
    reader.end();
    throw error;
  }
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

/** What is written down of a file that was understood. */
const recordOf = ({ reading, rowCount, tallies, firstRows, remarks }: Surveyed) => ({
  reading,
  rowCount,
  tallies,
  firstRows,
  remarks,
});

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

/** Forgets files that were never made a cohort, a day after they came. */
export async function forgetOldUploads(): Promise<void> {
  await db()
    .delete(tables.upload)
    .where(and(lt(tables.upload.createdAt, sql`now() - interval '1 day'`), withoutCohort()));
}

/** Forgets these files, but those that a cohort still stands on. */
export async function forgetUploads(ids: string[]): Promise<void> {
  if (ids.length === 0) return;
  await db()
    .delete(tables.upload)
    .where(and(inArray(tables.upload.id, ids), withoutCohort()));
}

/** Neither a cohort nor a state that can be gone back to stands on it, alone or below a second file. */
function withoutCohort() {
  const { cohort, revision, upload } = tables;
  const one = { one: sql`1` };
  const first = sql`second ->> 'first' = ${upload.id}::text`;
  return and(
    notExists(
      db()
        .select(one)
        .from(cohort)
        .where(or(eq(cohort.uploadId, upload.id), first)),
    ),
    notExists(
      db()
        .select(one)
        .from(revision)
        .where(or(eq(revision.uploadId, upload.id), first)),
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
