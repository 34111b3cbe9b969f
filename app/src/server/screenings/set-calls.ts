import { and, eq, sql } from 'drizzle-orm';
import type { CallRule } from '@rook-scale/core/screening';
import { atOnce, db, inTurn, tables } from '../ground/database/index.ts';
import { recordAct } from '../acts/index.ts';
import { same } from '../ground/same.ts';
import { notFound, Problem } from '../ground/problem.ts';
import { announce } from '../jobs/index.ts';

const { screening } = tables;

/**
 * Chooses who of one list is called in. Nothing else follows: not the candidate's cutoff, nor other lists.
 *
 * @param scoredAt when the scores were made that the choice was made on
 */
export async function setCalls(id: string, calls: CallRule, scoredAt: string): Promise<void> {
  const [row] = await db()
    .select({ studyId: screening.studyId })
    .from(screening)
    .where(eq(screening.id, id));
  if (!row) throw notFound('The screening');
  await inTurn(row.studyId, () =>
    atOnce(async () => {
      const { calls: before, list } = await callsOfList(id);
      if (same(before, calls)) return;
      const [kept] = await db()
        .update(screening)
        .set({ calls })
        .where(
          and(
            eq(screening.id, id),
            sql`date_trunc('milliseconds', ${screening.createdAt}) = ${scoredAt}::timestamptz`,
          ),
        )
        .returning({ id: screening.id });
      if (!kept)
        throw new Problem(
          409,
          'scored-again',
          'The list was scored again meanwhile. Nothing was changed; choose on the risks it has now.',
        );
      await recordAct(row.studyId, `calls of ${list}`, {
        ...{ kind: 'value', of: 'calls', id, before, after: calls },
      });
      await announce(row.studyId);
    }),
  );
}

/** Who of a list is called in, of which scores, and what the list is called. */
export async function callsOfList(
  id: string,
): Promise<{ calls: CallRule; scoredAt: string; list: string }> {
  const [found] = await db()
    .select({ calls: screening.calls, at: screening.createdAt, list: tables.cohort.name })
    .from(screening)
    .innerJoin(tables.cohort, eq(tables.cohort.id, screening.cohortId))
    .where(eq(screening.id, id));
  if (!found) throw notFound('The screening');
  return { calls: found.calls, scoredAt: found.at.toISOString(), list: found.list };
}
