import { and, asc, eq } from 'drizzle-orm';
import type { Dismissal } from '../contract/dismissals.ts';
import { recordAct, type Changed } from './acts/index.ts';
import { atOnce, db, inTurn, tables } from './ground/database/index.ts';
import { same } from './ground/same.ts';
import { announce } from './jobs/index.ts';

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

export const dismissNote = (
  studyId: string,
  note: string,
  title: string,
  reason: string,
): Promise<void> => setDismissal(placeOf(studyId, note), { title, reason });

export const bringNoteBack = (studyId: string, note: string): Promise<void> =>
  setDismissal(placeOf(studyId, note), null);

/** Why a note is dismissed; null while it is not. */
export async function dismissalAt(place: string): Promise<Changed['note']> {
  const { studyId, note } = readPlace(place);
  const [found] = await db()
    .select({ title: dismissal.title, reason: dismissal.reason })
    .from(dismissal)
    .where(and(eq(dismissal.studyId, studyId), eq(dismissal.note, note)));
  return found ?? null;
}

/** Dismisses a note, or with null brings it back. */
export async function setDismissal(place: string, after: Changed['note']): Promise<void> {
  const { studyId, note } = readPlace(place);
  await inTurn(studyId, () =>
    atOnce(async () => {
      const before = await dismissalAt(place);
      if (same(before, after)) return;
      await db()
        .delete(dismissal)
        .where(and(eq(dismissal.studyId, studyId), eq(dismissal.note, note)));
      if (after)
        await db()
          .insert(dismissal)
          .values({ studyId, note, ...after });
      const { title } = (after ?? before)!;
      await recordAct(studyId, `note “${title}” ${after ? 'dismissed' : 'brought back'}`, {
        ...{ kind: 'value', of: 'note', id: place, before, after },
      });
      await announce(studyId);
    }),
  );
}

const placeOf = (studyId: string, note: string) => `${studyId} ${note}`;
const readPlace = (place: string) => ({ studyId: place.slice(0, 36), note: place.slice(37) });
