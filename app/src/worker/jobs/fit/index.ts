import { and, eq, isNull, lt, or, sql } from 'drizzle-orm';
import { db, tables } from '../../../server/ground/database/index.ts';
import { cellsOfFit, requestFit } from '../../../server/jobs/index.ts';
import { letColumnsGo } from '../../../server/surveys/index.ts';
import type { JobKind } from '../job-kind.ts';
import { isLarge } from '../large-work.ts';
import { claim, staleSeconds } from './claim.ts';
import { fitCandidate } from './fit-candidate.ts';

const { candidate } = tables;

/** Long fits of candidates: one at a time, each on all threads. */
export const fitJobs: JobKind<'fit'> = {
  kind: 'fit',
  sideBySide: 1,
  async take({ candidateId }, threads) {
    const cells = await cellsOfFit(candidateId);
    const run = await claim(candidateId);
    if (run === undefined) return undefined;
    const mine = and(
      eq(candidate.id, candidateId),
      eq(candidate.state, 'fitting'),
      eq(candidate.fitRun, run),
    );
    return {
      id: candidateId,
      cells,
      // What it throws ends the signs of life, and so the candidate is taken up again.
      carryOut(signal) {
        if (isLarge(cells)) letColumnsGo();
        return fitCandidate(candidateId, run, threads, signal);
      },
      async alive() {
        await db()
          .update(candidate)
          .set({ heartbeatAt: sql`now()` })
          .where(mine);
      },
      async giveBack() {
        const given = await db()
          .update(candidate)
          .set({ state: 'waiting' })
          .where(mine)
          .returning({ id: candidate.id });
        if (given.length > 0) await requestFit(candidateId);
      },
    };
  },
  async takeUp(mine) {
    for (const id of await forsaken()) {
      if (mine(id)) continue;
      await db()
        .update(candidate)
        .set({ heartbeatAt: sql`now()` })
        .where(and(eq(candidate.id, id), eq(candidate.state, 'waiting')));
      await requestFit(id);
    }
  },
};

/** Short fits, in a lane beside the long ones: nobody waits minutes for seconds of work. */
export const shortFitJobs: JobKind<'short fit'> = {
  kind: 'short fit',
  sideBySide: 1,
  take: (data, threads) => fitJobs.take(data, threads),
};

/** Fits whose worker has gone silent, and those that wait without a job. */
async function forsaken(): Promise<string[]> {
  const { state, heartbeatAt, createdAt, id } = candidate;
  const ago = (seconds: number) => sql`now() - make_interval(secs => ${seconds})`;
  const rows = await db()
    .select({ id })
    .from(candidate)
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
  return rows.map((row) => row.id);
}
