import { and, eq, inArray, isNull, lt, or, sql } from 'drizzle-orm';
import { db, tables } from '../../../server/ground/database/index.ts';
import { requestSearch } from '../../../server/jobs/index.ts';
import { letColumnsGo } from '../../../server/surveys/index.ts';
import { staleSeconds } from '../fit/claim.ts';
import type { JobKind } from '../job-kind.ts';
import { isLarge } from '../large-work.ts';
import { carryOut } from './carry-out.ts';
import { giveBack, hasFree, showAlive, takePart } from './claim.ts';

const { search } = tables;

/** Searches: several workers may share one; each has one in hand at a time, on all threads. */
export const searchJobs: JobKind<'search'> = {
  kind: 'search',
  sideBySide: 1,
  async take({ searchId }, threads) {
    const row = await takePart(searchId);
    if (!row) return undefined;
    const cells = await cellsOf(searchId);
    return {
      id: searchId,
      cells,
      async carryOut(signal) {
        if (isLarge(cells)) letColumnsGo();
        try {
          await carryOut(row, threads, signal);
        } finally {
          await giveBack(searchId);
        }
      },
      alive: () => showAlive(searchId),
      async giveBack() {
        await giveBack(searchId);
        await requestSearch(searchId);
      },
    };
  },
  async takeUp(mine) {
    // A worker that comes later, or was busy, shares what others are at.
    for (const id of await unshared()) if (!mine(id)) await requestSearch(id);
    for (const id of await forsaken()) {
      if (mine(id)) continue;
      await db()
        .update(search)
        .set({ heartbeatAt: sql`now()` })
        .where(eq(search.id, id));
      await requestSearch(id);
    }
  },
};

/** Searches at work of which pieces wait. */
async function unshared(): Promise<string[]> {
  const rows = await db()
    .select({ id: search.id })
    .from(search)
    .where(and(eq(search.state, 'running'), isNull(search.deletedAt), hasFree));
  return rows.map((row) => row.id);
}

/** Searches whose workers have gone silent, and those that wait without a job. */
async function forsaken(): Promise<string[]> {
  const { state, heartbeatAt, createdAt, id, deletedAt } = search;
  const ago = (seconds: number) => sql`now() - make_interval(secs => ${seconds})`;
  const rows = await db()
    .select({ id })
    .from(search)
    .where(
      and(
        inArray(state, ['waiting', 'running']),
        isNull(deletedAt),
        or(lt(heartbeatAt, ago(staleSeconds)), and(isNull(heartbeatAt), lt(createdAt, ago(30)))),
      ),
    );
  return rows.map((row) => row.id);
}

/** How many cells a search works on. */
async function cellsOf(searchId: string): Promise<number> {
  const [found] = await db()
    .select({ patients: tables.cohort.rowCount, choices: tables.design.choices })
    .from(search)
    .innerJoin(tables.design, eq(tables.design.id, search.designId))
    .innerJoin(tables.cohort, eq(tables.cohort.id, tables.design.cohortId))
    .where(eq(search.id, searchId));
  return found ? found.patients * found.choices.predictors.length : 0;
}
