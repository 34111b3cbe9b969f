import { writeJson } from '@rook-scale/core/stored';
import { randomUUID } from 'node:crypto';
import { and, eq, inArray, isNull, sql } from 'drizzle-orm';
import { asBytes } from '../../../server/files/index.ts';
import { atOnce, db, tables } from '../../../server/ground/database/index.ts';
import { staleSeconds } from '../fit/claim.ts';
import type { SearchRow } from '../../../server/searches/index.ts';
import type { TriedPiece } from './try-pieces.ts';

const { search, searchPiece } = tables;

/** This process among those that share a search. */
export const self = randomUUID();

const stale = sql`now() - make_interval(secs => ${staleSeconds})`;
const ofRound = sql`${searchPiece.searchId} = ${search.id} and ${searchPiece.round} = ${search.round}
  and ${searchPiece.doneAt} is null`;

/** Whether a piece is there that nobody is at. */
export const hasFree = sql`exists (select from ${searchPiece} where ${ofRound}
    and (${searchPiece.claimedAt} is null or ${searchPiece.claimedAt} < ${stale}))`;

/** Whether there is anything to do: rounds to plan, a piece that nobody is at, or a round to end. */
const hasWork = sql`(${search.shares} is null or ${hasFree}
  or not exists (select from ${searchPiece} where ${ofRound}))`;

/** Takes part in a search, unless it is stopped or finished, or others are at all that is left. */
export async function takePart(id: string): Promise<SearchRow | undefined> {
  const [row] = await db()
    .update(search)
    .set({
      state: 'running',
      heartbeatAt: sql`now()`,
      startedAt: sql`coalesce(${search.startedAt}, now())`,
    })
    .where(
      and(
        eq(search.id, id),
        inArray(search.state, ['waiting', 'running']),
        isNull(search.deletedAt),
        hasWork,
      ),
    )
    .returning();
  return row;
}

/** A sign of life for the search and for the pieces in hand. */
export async function showAlive(id: string): Promise<void> {
  await db()
    .update(search)
    .set({ heartbeatAt: sql`now()` })
    .where(and(eq(search.id, id), eq(search.state, 'running')));
  await db()
    .update(searchPiece)
    .set({ claimedAt: sql`now()` })
    .where(mine(id));
}

/** Gives the pieces in hand back. */
export async function giveBack(id: string): Promise<void> {
  await db().update(searchPiece).set({ claimedBy: null, claimedAt: null }).where(mine(id));
}

const mine = (id: string) =>
  and(eq(searchPiece.searchId, id), eq(searchPiece.claimedBy, self), isNull(searchPiece.doneAt));

export interface ClaimedPiece {
  number: number;
  part: string;
  trials: number[];
}

/** The next pieces of a round that nobody is at, or whose worker has gone silent. */
export async function claimPieces(
  { id, run }: SearchRow,
  round: number,
  most: number,
): Promise<ClaimedPiece[]> {
  // As a list that is made once: looked up anew for each row it would give more than so many.
  const found = await db().execute<ClaimedPiece & Record<string, unknown>>(sql`
    with free as materialized (
      select ${searchPiece.number} as number from ${searchPiece}
      where ${searchPiece.searchId} = ${id} and ${searchPiece.round} = ${round}
        and ${searchPiece.doneAt} is null
        and (${searchPiece.claimedAt} is null or ${searchPiece.claimedAt} < ${stale})
        and exists (select from ${search} where ${search.id} = ${id}
          and ${search.run} = ${run} and ${search.state} = 'running')
      order by ${searchPiece.number} limit ${most} for update skip locked
    )
    update ${searchPiece} set claimed_by = ${self}, claimed_at = now()
    from free where ${searchPiece.searchId} = ${id} and ${searchPiece.number} = free.number
    returning ${searchPiece.number} as number, ${searchPiece.part} as part, ${searchPiece.trials} as trials`);
  return found.rows;
}

/**
 * Keeps what was fitted, unless the search was begun anew meanwhile: its row is held, so that either of
 * the two waits for the other.
 *
 * @param workOf that a part is, in fits on all patients
 */
export async function keepPieces(
  { id, run }: SearchRow,
  pieces: TriedPiece[],
  workOf: (part: string) => number,
): Promise<void> {
  await atOnce(async () => {
    const [own] = await db()
      .select({ id: search.id })
      .from(search)
      .where(and(eq(search.id, id), eq(search.run, run)))
      .for('update');
    if (!own) return;
    const rows = pieces.map(
      ({ number, development, problem, problems, ranked, header, values }) =>
        sql`(${number}::integer, ${json(development)}::jsonb, ${problem ?? null}::text,
          ${json(problems)}::jsonb, ${json(ranked)}::jsonb,
          ${json(header)}::jsonb, ${values ? asBytes(values) : null}::bytea)`,
    );
    const kept = await db().execute<{ part: string }>(sql`
      update ${searchPiece} set done_at = now(), claimed_by = null, development = found.development,
        problem = found.problem, problems = found.problems, ranked = found.ranked,
        header = found.header, "values" = found.said
      from (values ${sql.join(rows, sql`, `)})
        as found (number, development, problem, problems, ranked, header, said)
      where ${searchPiece.searchId} = ${id} and ${searchPiece.number} = found.number
        and ${searchPiece.doneAt} is null
      returning ${searchPiece.part} as part`);
    const work = kept.rows.reduce((sum, { part }) => sum + workOf(part), 0);
    await db()
      .update(search)
      .set({
        workDone: sql`${search.workDone} + ${work}`,
        heartbeatAt: sql`now()`,
      })
      .where(eq(search.id, id));
  });
}

const json = (value: unknown) => (value === undefined ? null : writeJson(value));
