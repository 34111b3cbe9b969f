import { and, desc, eq, isNotNull, isNull, sql } from 'drizzle-orm';
import type { Act, History } from '../../contract/studies.ts';
import { db, tables } from '../ground/database/index.ts';
import { personAtHand } from '../ground/person.ts';

const { act } = tables;

/** An act with all that its undo needs. */
export type KeptAct = typeof act.$inferSelect;

/** What was deleted comes back within a day. */
const kept = 24 * 3600 * 1000;

/** What the person at hand can take back in a study, and do again. */
export async function historyOf(studyId: string): Promise<History> {
  const [last, undone] = await Promise.all([lastDone(studyId), lastUndone(studyId)]);
  return {
    undo: last && canBeUndone(last) ? { id: last.id, what: last.what } : null,
    blocked: last && !canBeUndone(last) ? last.what : null,
    redo: undone ? { id: undone.id, what: undone.what } : null,
  };
}

/** The last act of the person at hand that is in force. */
export async function lastDone(studyId: string): Promise<KeptAct | undefined> {
  const [found] = await db()
    .select()
    .from(act)
    .where(and(mine(studyId), isNull(act.undoneAt)))
    .orderBy(desc(act.id))
    .limit(1);
  return found;
}

/** The act that the person at hand took back last, unless they did something else since. */
export async function lastUndone(studyId: string): Promise<KeptAct | undefined> {
  const [found] = await db()
    .select()
    .from(act)
    .where(and(mine(studyId), isNotNull(act.undoneAt)))
    .orderBy(desc(act.undoneAt), act.id)
    .limit(1);
  if (!found) return undefined;
  const [since] = await db()
    .select({ id: act.id })
    .from(act)
    .where(and(mine(studyId), isNull(act.undoneAt), sql`${act.id} > ${found.id}`))
    .limit(1);
  return since ? undefined : found;
}

/** An act of the person at hand that can be taken back, or was. */
export async function ownAct(
  studyId: string,
  id: number,
  direction: 'undo' | 'redo',
): Promise<KeptAct | undefined> {
  const state = direction === 'undo' ? isNull(act.undoneAt) : isNotNull(act.undoneAt);
  const [found] = await db()
    .select()
    .from(act)
    .where(and(mine(studyId), eq(act.id, id), state));
  return found;
}

/** The latest acts in a study, whoever did them. */
export async function listActs(studyId: string): Promise<Act[]> {
  const person = personAtHand();
  const rows = await db()
    .select()
    .from(act)
    .where(eq(act.studyId, studyId))
    .orderBy(desc(act.id))
    .limit(500);
  return rows.map((row) => ({
    id: row.id,
    what: row.what,
    at: row.at.toISOString(),
    who: row.person === null ? 'product' : row.person === person ? 'you' : 'other',
    undoneAt: row.undoneAt?.toISOString() ?? null,
    canBeUndone: canBeUndone(row),
  }));
}

/** Whether an act can be taken back; a list or candidate that was deleted, for a day. */
export function canBeUndone({ undo, at }: KeptAct): boolean {
  if (!undo) return false;
  return undo.kind !== 'presence' || undo.made || Date.now() - at.getTime() < kept;
}

function mine(studyId: string) {
  const person = personAtHand();
  return and(
    eq(act.studyId, studyId),
    person === undefined ? isNull(act.person) : eq(act.person, person),
  );
}
