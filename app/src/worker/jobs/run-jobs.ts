import {
  calledOffChannel,
  listen,
  queue,
  wantedChannel,
  type JobData,
} from '../../server/jobs/index.ts';
import { isConnectionError } from '../../server/ground/database/index.ts';
import { logError } from '../../server/ground/log.ts';
import type { WorkerThreads } from '../threads.ts';
import { fitsFirst } from './giving-way.ts';
import type { JobKind, Work } from './job-kind.ts';
import { oneLargeAtATime } from './large-work.ts';

/** Jobs as this process takes them, until it is stopped. */
export interface RunningJobs {
  stop(): Promise<void>;
}

interface InHand {
  work: Work;
  stop: AbortController;
}

/** Milliseconds between signs of life, and between looks for work that nobody is at any more. */
const aliveEvery = 2000;
const takeUpEvery = 5000;

/** Takes jobs of these kinds from the queue and carries them out, each kind in lanes of its own. */
export async function runJobs(kinds: JobKind[], threads: WorkerThreads): Promise<RunningJobs> {
  const boss = await queue();
  const inHand = new Map<string, InHand>();
  listen(calledOffChannel, (id) => inHand.get(id)?.stop.abort());
  const lanes: { kind: string; id: string }[] = [];
  for (const kind of kinds)
    for (let lane = 0; lane < kind.sideBySide; lane++) {
      const id = await boss.work<JobData[typeof kind.kind]>(
        kind.kind,
        { pollingIntervalSeconds: 0.5, batchSize: 1 },
        ([job]) => carryOut(kind, job.data, threads, inHand),
      );
      lanes.push({ kind: kind.kind, id });
    }
  // Without a name the connection was lost for a while: any may have been missed.
  listen(wantedChannel, (name) => {
    for (const { kind, id } of lanes) if (name === '' || name === kind) boss.notifyWorker(id);
  });
  const timers = [
    setInterval(() => {
      for (const { work } of inHand.values()) void quietly(() => work.alive?.());
    }, aliveEvery),
    setInterval(() => {
      for (const kind of kinds) void quietly(() => kind.takeUp?.((id) => inHand.has(id)));
    }, takeUpEvery),
  ];
  return {
    async stop() {
      timers.forEach(clearInterval);
      // First no new job, then the ones at hand go back.
      for (const { kind } of kinds) await quietly(() => boss.offWork(kind));
      const mine = [...inHand.values()];
      for (const { stop } of mine) stop.abort();
      for (const { work } of mine) await quietly(() => work.giveBack?.());
    },
  };
}

async function carryOut(
  kind: JobKind,
  data: JobData[keyof JobData],
  threads: WorkerThreads,
  inHand: Map<string, InHand>,
): Promise<void> {
  const work = await kind.take(data, threads);
  if (!work) return;
  const stop = new AbortController();
  inHand.set(work.id, { work, stop });
  try {
    await oneLargeAtATime(
      work.cells,
      () => fitsFirst(kind.kind, () => work.carryOut(stop.signal)),
      // What a thread has once used it keeps, unless it ends.
      () => threads.endIdle(),
    );
  } catch (error) {
    if (work.again?.(error)) throw error;
    logError(`${kind.kind} given up`, error);
  } finally {
    inHand.delete(work.id);
  }
}

async function quietly(work: () => Promise<void> | undefined): Promise<void> {
  try {
    await work();
  } catch (error) {
    // While the database is away this is nothing new.
    if (!isConnectionError(error)) logError('worker', error);
  }
}
