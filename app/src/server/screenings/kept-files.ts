import { and, desc, eq, inArray, lt, or, sql } from 'drizzle-orm';
import type { ListFile } from '../../contract/screenings.ts';
import { atOnce, db, passesByItself, tables } from '../ground/database/index.ts';
import { logError } from '../ground/log.ts';
import { notFound, Problem } from '../ground/problem.ts';
import { callOff, requestListFile } from '../jobs/index.ts';
import { screeningFile, screeningFileName } from './list-file.ts';
import { openScreening, refuseAnotherList } from './view.ts';

const { listFile, listFilePart, screening } = tables;

/** A file without sign of life for this long is taken over. */
const staleSeconds = 10;
const stale = sql`now() - make_interval(secs => ${staleSeconds})`;
/** A part is stored once it has this many bytes, or after this many milliseconds. */
const partBytes = 1_000_000;
const partEvery = 500;

/** A file belongs to the scores that it was written from: after another scoring it matches no list. */
const ofItsScores = and(
  eq(screening.id, listFile.screeningId),
  eq(screening.createdAt, listFile.scoredAt),
);

/** Asks for the file of a list. An existing file, or one being written, is returned instead of a second. */
export async function askListFile(
  screeningId: string,
  { cutoff, reasons }: { cutoff?: number; reasons: boolean },
): Promise<{ id: string }> {
  const { row, cohort, calls } = await openScreening(screeningId);
  refuseAnotherList(row, cohort);
  const from = cutoff ?? calls.cutoff;
  return atOnce(async () => {
    // The lock makes two requests share one file, and keeps the scores as they are meanwhile.
    const [now] = await db()
      .select({ createdAt: screening.createdAt })
      .from(screening)
      .where(eq(screening.id, screeningId))
      .for('update');
    if (now?.createdAt.getTime() !== row.createdAt.getTime())
      throw new Problem(
        409,
        'scored-again',
        'The list was scored again meanwhile. Check the new scores, then download the file.',
      );
    const [same] = await db()
      .select({ id: listFile.id })
      .from(listFile)
      .innerJoin(screening, ofItsScores)
      .where(
        and(
          eq(listFile.screeningId, screeningId),
          eq(listFile.cutoff, from),
          eq(listFile.reasons, reasons),
          inArray(listFile.state, ['waiting', 'running', 'done']),
        ),
      );
    if (same) return same;
    const [made] = await db()
      .insert(listFile)
      .values({
        ...{ screeningId, cutoff: from, reasons, patients: cohort.rowCount },
        // As the database has it, to the microsecond.
        scoredAt: sql`(select created_at from ${screening} where id = ${screeningId})`,
      })
      .returning({ id: listFile.id });
    await requestListFile(made.id);
    return made;
  });
}

/** The files of a list as it is scored now, the last first. */
export async function listFiles(screeningId: string): Promise<ListFile[]> {
  const rows = await db()
    .select({ file: listFile })
    .from(listFile)
    .innerJoin(screening, ofItsScores)
    .where(eq(listFile.screeningId, screeningId))
    .orderBy(desc(listFile.createdAt))
    .limit(10);
  return rows.map(({ file }) => {
    const { id, cutoff, reasons, state, patients, patientsDone, startedAt, problem } = file;
    const elapsed = startedAt ? Date.now() - startedAt.getTime() : null;
    return { id, cutoff, reasons, state, patients, patientsDone, elapsed, problem };
  });
}

/** Calls a file off, or takes away what was written. */
export async function deleteListFile(screeningId: string, id: string): Promise<void> {
  const [gone] = await db()
    .delete(listFile)
    .where(and(eq(listFile.id, id), eq(listFile.screeningId, screeningId)))
    .returning({ id: listFile.id });
  if (!gone) throw notFound('The file');
  await callOff(id);
}

/** A finished file: its name, its length in bytes, and its parts in order. */
export async function keptListFile(
  screeningId: string,
  id: string,
): Promise<{ name: string; bytes: number; parts: AsyncGenerator<Buffer> }> {
  const name = await screeningFileName(screeningId);
  const [file] = (await listFiles(screeningId)).filter((one) => one.id === id);
  if (!file)
    throw new Problem(
      404,
      'not-found',
      'This file has been deleted: the list was scored again, or the file is more than a day old. Download the list again.',
    );
  if (file.state !== 'done')
    throw new Problem(
      409,
      'not-whole',
      'This file is still being written. Download it when it is finished.',
    );
  const [{ bytes, count }] = await db()
    .select({
      bytes: sql<number>`coalesce(sum(octet_length(content)), 0)::float8`,
      count: sql<number>`count(*)::int`,
    })
    .from(listFilePart)
    .where(eq(listFilePart.fileId, id));
  return { name, bytes, parts: partsOf(id, count) };
}

async function* partsOf(id: string, count: number): AsyncGenerator<Buffer> {
  for (let position = 0; position < count; position++) {
    const [part] = await db()
      .select({ content: listFilePart.content })
      .from(listFilePart)
      .where(and(eq(listFilePart.fileId, id), eq(listFilePart.position, position)));
    // The error breaks the download off; without it, half a list would look complete.
    if (!part) throw notFound('The file');
    yield part.content;
  }
}

/** Takes a file for writing, unless it is called off, written or in another worker's hands. */
export async function claimListFile(id: string): Promise<number | undefined> {
  const [claimed] = await db()
    .update(listFile)
    .set({
      ...{ state: 'running', patientsDone: 0 },
      ...{ run: sql`${listFile.run} + 1`, heartbeatAt: sql`now()`, startedAt: sql`now()` },
    })
    .where(
      and(
        eq(listFile.id, id),
        or(
          eq(listFile.state, 'waiting'),
          and(eq(listFile.state, 'running'), lt(listFile.heartbeatAt, stale)),
        ),
      ),
    )
    .returning({ run: listFile.run });
  return claimed?.run;
}

/** Writes a file from its beginning; a worker of an earlier run, or of a file that is called off, keeps nothing. */
export async function writeListFile(id: string, run: number, signal: AbortSignal): Promise<void> {
  try {
    const [file] = await db().select().from(listFile).where(mine(id, run));
    if (!file) return;
    await keepPart(id, run, 0, async () => {
      await db().delete(listFilePart).where(eq(listFilePart.fileId, id));
    });
    let held: string[] = [];
    let [length, position, keptAt, done] = [0, 0, performance.now(), 0];
    const keep = () =>
      keepPart(id, run, done, async () => {
        await db()
          .insert(listFilePart)
          .values({ fileId: id, position: position++, content: Buffer.from(held.join('')) });
      });
    for await (const { text, patients } of screeningFile(file.screeningId, file)) {
      if (signal.aborted) return;
      held.push(text);
      length += text.length;
      done = patients;
      if (length < partBytes && performance.now() - keptAt < partEvery) continue;
      await keep();
      [held, length, keptAt] = [[], 0, performance.now()];
    }
    await keep();
    await end(id, run, { state: 'done' });
  } catch (error) {
    if (signal.aborted || error instanceof NotMine) return;
    // Without a sign of life it is taken up again.
    if (passesByItself(error)) throw error;
    if (!(error instanceof Problem)) logError('list file', error);
    const problem =
      error instanceof Problem
        ? error.sentence
        : 'Writing the file stopped on an unexpected error. The list is safe; download it again.';
    await end(id, run, { state: 'failed', problem });
  }
}

/** The file was called off, or another worker has it. */
class NotMine extends Error {}

const mine = (id: string, run: number) =>
  and(eq(listFile.id, id), eq(listFile.run, run), eq(listFile.state, 'running'));

/** Stores a part together with the progress, if this run still owns the file. */
async function keepPart(
  id: string,
  run: number,
  patientsDone: number,
  write: () => Promise<void>,
): Promise<void> {
  await atOnce(async () => {
    const [own] = await db()
      .update(listFile)
      .set({ patientsDone, heartbeatAt: sql`now()` })
      .where(mine(id, run))
      .returning({ id: listFile.id });
    if (!own) throw new NotMine();
    await write();
  });
}

const end = (id: string, run: number, how: { state: 'done' | 'failed'; problem?: string }) =>
  db()
    .update(listFile)
    .set({ ...how, endedAt: sql`now()` })
    .where(mine(id, run));

/** A sign of life while the reasons of many patients are worked out. */
export async function showListFileAlive(id: string, run: number): Promise<void> {
  await db()
    .update(listFile)
    .set({ heartbeatAt: sql`now()` })
    .where(mine(id, run));
}

/** Gives a file back, for another worker to begin it anew. */
export async function giveBackListFile(id: string, run: number): Promise<void> {
  const given = await db()
    .update(listFile)
    .set({ state: 'waiting' })
    .where(mine(id, run))
    .returning({ id: listFile.id });
  if (given.length > 0) await requestListFile(id);
}

/** Files whose worker has gone silent, and those that wait without a job. */
export async function forsakenListFiles(): Promise<string[]> {
  const rows = await db()
    .select({ id: listFile.id })
    .from(listFile)
    .where(
      or(
        and(eq(listFile.state, 'running'), lt(listFile.heartbeatAt, stale)),
        and(
          eq(listFile.state, 'waiting'),
          lt(listFile.createdAt, sql`now() - interval '30 seconds'`),
        ),
      ),
    );
  return rows.map((row) => row.id);
}

/** Deletes files more than a day old, and files of earlier scores. */
export async function forgetListFiles(): Promise<void> {
  await db().execute(sql`
    delete from ${listFile} using ${screening}
    where ${screening.id} = ${listFile.screeningId}
      and (${listFile.createdAt} < now() - interval '1 day' or ${screening.createdAt} <> ${listFile.scoredAt})`);
}
