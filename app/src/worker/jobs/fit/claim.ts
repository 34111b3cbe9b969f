import { and, eq, lt, or, sql } from 'drizzle-orm';
import { db, tables } from '../../../server/ground/database/index.ts';

/** A fit without sign of life for this long is taken over. */
export const staleSeconds = 10;

/**
 * Takes a candidate for fitting, unless it is cancelled, finished or in another worker's hands. The number of the run
 * rises with every claim: a worker that was frozen, and wakes after another took over, has a run that writes nothing.
 */
export async function claim(candidateId: string): Promise<number | undefined> {
  const stale = sql`now() - make_interval(secs => ${staleSeconds})`;
  const { id, state, heartbeatAt, fitRun } = tables.candidate;
  const [claimed] = await db()
    .update(tables.candidate)
    .set({
      state: 'fitting',
      fitRun: sql`${fitRun} + 1`,
      heartbeatAt: sql`now()`,
      startedAt: sql`coalesce(started_at, now())`,
    })
    .where(
      and(
        eq(id, candidateId),
        or(eq(state, 'waiting'), and(eq(state, 'fitting'), lt(heartbeatAt, stale))),
      ),
    )
    .returning({ run: fitRun });
  return claimed?.run;
}
