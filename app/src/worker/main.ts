import { randomUUID } from 'node:crypto';
import { hostname, setPriority } from 'node:os';
import { eq, lt, sql } from 'drizzle-orm';
import { clearAway } from '../server/deletion.ts';
import { closeDatabase, db, passesByItself, tables } from '../server/ground/database/index.ts';
import { logError } from '../server/ground/log.ts';
import { endWhenRestored, stopQueue } from '../server/jobs/index.ts';
import { jobKinds, runJobs } from './jobs/index.ts';
import { WorkerThreads } from './threads.ts';

const threads = new WorkerThreads();

/** Whether the database was away, or short of room, when it was last asked. */
let away = false;

/** This process among the workers. */
const self = randomUUID();

// Whoever waits for a page comes first; threads begun from here on inherit it.
setPriority(10);

// The queue reports the end of a job in the background: while the database is away that fails, and
// must not end this process. Anything else unforeseen does, and it is started again.
process.on('unhandledRejection', (error) => {
  if (!passesByItself(error)) throw error;
  logError('worker', error);
});

await quietly(showAlive);
endWhenRestored();
const jobs = await runJobs(jobKinds, threads);
const timers = [
  setInterval(() => void quietly(showAlive), 2000),
  setInterval(() => void quietly(clearAway), 3_600_000),
];
process.on('SIGTERM', () => void stop());
process.on('SIGINT', () => void stop());
// Whoever started us is gone, and with it whoever would stop us.
process.on('disconnect', () => void stop());
process.send?.('ready');
console.log('worker ready');

/** Keeps this process on the list of workers, and strikes off those that have long been silent. */
async function showAlive(): Promise<void> {
  const { worker } = tables;
  await db()
    .insert(worker)
    .values({ id: self, host: hostname() })
    .onConflictDoUpdate({ target: worker.id, set: { seenAt: sql`now()` } });
  await db()
    .delete(worker)
    .where(lt(worker.seenAt, sql`now() - interval '1 minute'`));
}

async function quietly(work: () => Promise<void>): Promise<void> {
  try {
    await work();
    away = false;
  } catch (error) {
    // While the database is away, once is enough.
    if (!away) logError('worker', error);
    away = passesByItself(error);
  }
}

async function stop(): Promise<void> {
  timers.forEach(clearInterval);
  await quietly(() => jobs.stop());
  await quietly(async () => {
    await db().delete(tables.worker).where(eq(tables.worker.id, self));
  });
  await quietly(() => threads.close());
  await quietly(stopQueue);
  await quietly(closeDatabase);
  process.exit(0);
}
