import { randomUUID } from 'node:crypto';
import { hostname, setPriority } from 'node:os';
import { and, eq, isNull, lt, or, sql } from 'drizzle-orm';
import { logError } from '../server/ground/log.ts';
import { closeDatabase, db, isConnectionError, tables } from '../server/ground/database/index.ts';
import { clearAway } from '../server/deletion.ts';
import {
  cancelChannel,
  endWhenRestored,
  fitQueue,
  listen,
  queue,
  requestFit,
  stopQueue,
  surveyQueue,
  wantedChannel,
  type FitJob,
  type SurveyJob,
} from '../server/jobs/index.ts';
import { Problem } from '../server/ground/problem.ts';
import { letColumnsGo, surveyWork, type MeasureColumns } from '../server/surveys/index.ts';
import { cellsOf, claim, fitCandidate, staleSeconds } from './fit-candidate.ts';
import { isLarge, oneLargeAtATime } from './large-work.ts';
import { thinned } from './survey-task.ts';
import { WorkerThreads } from './threads.ts';

/** Candidates in this process's hands, with what stops each. */
const atWork = new Map<string, AbortController>();
const threads = new WorkerThreads();

/** This process among the workers. */
const self = randomUUID();

// Whoever waits for a page comes first; threads begun from here on inherit it.
setPriority(10);

// The queue reports the end of a job in the background: while the database is away that fails, and
// must not end this process. Anything else unforeseen does, and it is started again.
process.on('unhandledRejection', (error) => {
  if (!isConnectionError(error)) throw error;
  logError('worker', error);
});

const boss = await queue();
const measure: MeasureColumns = (columns, rows) => threads.measure(columns, rows);
await quietly(showAlive);
endWhenRestored();
listen(cancelChannel, (candidateId) => atWork.get(candidateId)?.abort());
const fitter = await boss.work<FitJob>(
  fitQueue,
  { pollingIntervalSeconds: 0.5, batchSize: 1 },
  async ([job]) => {
    const { candidateId } = job.data;
    const run = await claim(candidateId);
    if (run === undefined) return;
    const stop = new AbortController();
    atWork.set(candidateId, stop);
    try {
      const cells = await cellsOf(candidateId);
      const fit = () => {
        if (isLarge(cells)) letColumnsGo();
        return fitCandidate(candidateId, run, threads, stop.signal);
      };
      await oneLargeAtATime(cells, fit, tidyUp);
    } catch (error) {
      // The heartbeat stops here, so the candidate is taken up again.
      logError('fit given up', error);
    } finally {
      atWork.delete(candidateId);
    }
  },
);
// Two side by side: what a page waits for should not stand behind a long part of another.
const surveyors = [await takeSurveys(), await takeSurveys()];
listen(wantedChannel, (name) => {
  // Without a name the connection was lost for a while: either may have been missed.
  if (name !== surveyQueue) boss.notifyWorker(fitter);
  if (name !== fitQueue) surveyors.forEach((id) => boss.notifyWorker(id));
});
const timers = [
  setInterval(() => void quietly(beat), 2000),
  setInterval(() => void quietly(showAlive), 2000),
  setInterval(() => void quietly(takeUpStale), 5000),
  setInterval(() => void quietly(clearAway), 3_600_000),
];
process.on('SIGTERM', () => void stop());
process.on('SIGINT', () => void stop());
// Whoever started us is gone, and with it whoever would stop us.
process.on('disconnect', () => void stop());
process.send?.('ready');
console.log('worker ready');

/** Takes parts of surveys one after the other; gives the name under which the queue knows it. */
function takeSurveys(): Promise<string> {
  return boss.work<SurveyJob>(
    surveyQueue,
    { pollingIntervalSeconds: 0.5, batchSize: 1 },
    async ([job]) => {
      const work = await surveyWork(job.data.studyId, job.data.request, measure);
      if (!work) return;
      const carryOut = async () => {
        const task = await work.makeTask();
        const quick = thinned(task);
        if (quick)
          await work.keep({ result: await threads.survey(quick), sampled: quick.rows.length });
        await work.keep({ result: await threads.survey(task) });
      };
      try {
        await oneLargeAtATime(work.cells, carryOut, tidyUp);
      } catch (error) {
        // Tried again a little later.
        if (isConnectionError(error) || wasReadMeanwhile(error)) throw error;
        // Kept as the answer: the page says it instead of waiting.
        logError('survey', error);
        await work.keep({ problem: error instanceof Error ? error.message : 'The survey failed.' });
      }
    },
  );
}

/** After large work: what a thread has once used it keeps, unless it ends. */
function tidyUp(): void {
  threads.endIdle();
}

function wasReadMeanwhile(error: unknown): boolean {
  return error instanceof Problem && error.code === 'read-meanwhile';
}

async function beat(): Promise<void> {
  for (const candidateId of atWork.keys())
    await db()
      .update(tables.candidate)
      .set({ heartbeatAt: sql`now()` })
      .where(and(eq(tables.candidate.id, candidateId), eq(tables.candidate.state, 'fitting')));
}

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

/** Asks again for fits whose worker has gone silent, and for those that wait without a job. */
async function takeUpStale(): Promise<void> {
  const { state, heartbeatAt, createdAt, id } = tables.candidate;
  const ago = (seconds: number) => sql`now() - make_interval(secs => ${seconds})`;
  const stale = await db()
    .select({ id })
    .from(tables.candidate)
    .where(
      or(
        and(eq(state, 'fitting'), lt(heartbeatAt, ago(staleSeconds))),
        and(
          eq(state, 'waiting'),
          lt(createdAt, ago(30)),
          or(isNull(heartbeatAt), lt(heartbeatAt, ago(30))),
        ),
      ),
    );
  for (const candidate of stale) {
    if (atWork.has(candidate.id)) continue;
    await db()
      .update(tables.candidate)
      .set({ heartbeatAt: sql`now()` })
      .where(and(eq(id, candidate.id), eq(state, 'waiting')));
    await requestFit(candidate.id);
  }
}

async function quietly(work: () => Promise<void>): Promise<void> {
  try {
    await work();
  } catch (error) {
    logError('worker', error);
  }
}

async function stop(): Promise<void> {
  timers.forEach(clearInterval);
  // First no new job, then the ones at hand go back.
  await quietly(async () => {
    await boss.offWork(fitQueue);
    await boss.offWork(surveyQueue);
  });
  const mine = [...atWork.keys()];
  for (const controller of atWork.values()) controller.abort();
  await quietly(async () => {
    for (const candidateId of mine)
      await db()
        .update(tables.candidate)
        .set({ state: 'waiting' })
        .where(and(eq(tables.candidate.id, candidateId), eq(tables.candidate.state, 'fitting')));
    for (const candidateId of mine) await requestFit(candidateId);
  });
  await quietly(async () => {
    await db().delete(tables.worker).where(eq(tables.worker.id, self));
  });
  await quietly(() => threads.close());
  await quietly(stopQueue);
  await quietly(closeDatabase);
  process.exit(0);
}
