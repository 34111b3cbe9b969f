import { and, asc, eq, sql } from 'drizzle-orm';
import type { KeptFile } from '../files/index.ts';
import { db, tables } from '../ground/database/index.ts';

/** The bytes of an upload, as they came. */
async function* uploadContent(id: string): AsyncGenerator<Uint8Array> {
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

/** The kept bytes of an upload, to be read in order or from anywhere. */
export function keptFile(id: string, size: number): KeptFile {
  return {
    size,
    stream: () => uploadContent(id),
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
