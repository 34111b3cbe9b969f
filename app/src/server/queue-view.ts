import { and, desc, eq, gt, inArray, isNull, or, sql } from 'drizzle-orm';
import { candidateName } from './candidates/index.ts';
import { db, tables } from './ground/database/index.ts';
import { fitsInOrder } from './jobs/index.ts';
import { searchName } from './searches/index.ts';
import type { QueuedFit, QueuedSearch, QueueView } from '../contract/queue.ts';

/** Seconds after which a silent worker counts as gone. */
const workerStale = 8;

export async function queueView(): Promise<QueueView> {
  const { candidate, study } = tables;
  const rows = await db()
    .select({ candidate: tables.candidate, study: study.name })
    .from(candidate)
    .innerJoin(study, eq(study.id, candidate.studyId))
    .where(
      and(
        isNull(study.deletedAt),
        isNull(candidate.deletedAt),
        or(
          inArray(candidate.state, ['waiting', 'fitting']),
          gt(candidate.heartbeatAt, sql`now() - interval '1 hour'`),
        ),
      ),
    )
    .orderBy(desc(candidate.heartbeatAt))
    .limit(200);
  const fits = rows.map(({ candidate: one, study: name }): QueuedFit => {
    const { id, studyId, state, startedAt, problem, heartbeatAt } = one;
    const { partsDone, partsTotal, partsBegun } = one;
    const busy = state === 'waiting' || state === 'fitting';
    return {
      candidateId: id,
      candidate: candidateName(one),
      studyId,
      study: name,
      state,
      partsDone,
      partsTotal,
      partsBegun,
      elapsed: startedAt ? Date.now() - startedAt.getTime() : null,
      problem,
      endedAt: busy ? null : (heartbeatAt?.toISOString() ?? null),
    };
  });
  const order = { fitting: 0, waiting: 1, failed: 2, cancelled: 2, fitted: 2 };
  const places = new Map((await fitsInOrder()).map((id, place) => [id, place]));
  const placeOf = ({ state, candidateId }: QueuedFit) =>
    state === 'waiting' ? (places.get(candidateId) ?? places.size) : 0;
  const sorted = fits.sort((a, b) => order[a.state] - order[b.state] || placeOf(a) - placeOf(b));
  const busy = sorted.filter((fit) => fit.endedAt === null);
  return {
    searches: await searchesAtWork(),
    fits: [...busy, ...sorted.slice(busy.length, busy.length + 12)],
    workers: await workersAtHand(),
  };
}

async function searchesAtWork(): Promise<QueuedSearch[]> {
  const { search, study } = tables;
  const rows = await db()
    .select({ search: tables.search, study: study.name })
    .from(search)
    .innerJoin(study, eq(study.id, search.studyId))
    .where(
      and(
        isNull(study.deletedAt),
        isNull(search.deletedAt),
        inArray(search.state, ['waiting', 'running']),
      ),
    )
    .orderBy(search.createdAt);
  return rows.map(({ search: one, study: name }) => ({
    searchId: one.id,
    search: `${searchName(one)}, search`,
    studyId: one.studyId,
    study: name,
    state: one.state === 'waiting' ? 'waiting' : 'running',
    progress: one.workTotal > 0 ? Math.min(1, one.workDone / one.workTotal) : 0,
  }));
}

export async function workersAtHand(): Promise<number> {
  const { worker } = tables;
  const [{ count }] = await db()
    .select({ count: sql<number>`count(*)::int` })
    .from(worker)
    .where(gt(worker.seenAt, sql`now() - make_interval(secs => ${workerStale})`));
  return count;
}
