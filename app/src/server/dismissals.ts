import { and, asc, eq } from 'drizzle-orm';
import { db, tables } from './ground/database/index.ts';
import { announce } from './jobs/index.ts';
import type { Dismissal } from '../contract/dismissals.ts';

const { dismissal } = tables;

export async function listDismissals(studyId: string): Promise<Dismissal[]> {
  const rows = await db()
    .select({
      note: dismissal.note,
      title: dismissal.title,
      reason: dismissal.reason,
      at: dismissal.at,
    })
    .from(dismissal)
    .where(eq(dismissal.studyId, studyId))
    .orderBy(asc(dismissal.at));
  return rows.map((row) => ({ ...row, at: row.at.toISOString() }));
}

export async function dismissNote(
  studyId: string,
  note: string,
  title: string,
  reason: string,
): Promise<void> {
  await db()
    .insert(dismissal)
    .values({ studyId, note, title, reason })
    .onConflictDoUpdate({
      target: [dismissal.studyId, dismissal.note],
      set: { title, reason, at: new Date() },
    });
  await announce(studyId);
}

export async function bringNoteBack(studyId: string, note: string): Promise<void> {
  await db()
    .delete(dismissal)
    .where(and(eq(dismissal.studyId, studyId), eq(dismissal.note, note)));
  await announce(studyId);
}
