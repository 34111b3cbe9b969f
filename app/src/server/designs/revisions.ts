import { and, desc, eq, gt, sql } from 'drizzle-orm';
import type { Design } from '@rook-scale/core/design';
import type { Selection } from '@rook-scale/core/selection';
import type { Dictionary } from '@rook-scale/core/table';
import { atOnce, db, tables } from '../ground/database/index.ts';
import type { SecondFile } from '../../contract/cohorts.ts';
import type { History } from '../../contract/studies.ts';

export interface RevisionState {
  what: string;
  dictionary: Dictionary;
  choices: Design;
  selection: Selection;
  uploadId: string;
  second: SecondFile | null;
}

const { revision, study } = tables;

/** Keeps what dictionary and design are after a change; what was undone before is left behind. */
export async function recordRevision(
  studyId: string,
  cohortId: string,
  state: RevisionState,
): Promise<void> {
  await atOnce(async () => {
    const [{ number }] = await db()
      .update(study)
      .set({ revision: sql`${study.revision} + 1` })
      .where(eq(study.id, studyId))
      .returning({ number: study.revision });
    await db()
      .update(revision)
      .set({ leftBehind: true })
      .where(
        and(
          eq(revision.studyId, studyId),
          eq(revision.leftBehind, false),
          sql`${revision.number} >= ${number}`,
        ),
      );
    await db()
      .insert(revision)
      .values({ studyId, cohortId, number, ...state });
  });
}

/** What is said of a revision, without the state it holds. */
const brief = { number: revision.number, what: revision.what, cohortId: revision.cohortId };

/** The revision in force and its neighbours, those of the same cohort only. */
async function around(studyId: string) {
  const [current] = await db()
    .select(brief)
    .from(revision)
    .innerJoin(study, and(eq(study.id, revision.studyId), eq(study.revision, revision.number)))
    .where(and(eq(revision.studyId, studyId), eq(revision.leftBehind, false)));
  if (!current) return {};
  const { number, cohortId } = current;
  const own = and(
    eq(revision.studyId, studyId),
    eq(revision.cohortId, cohortId),
    eq(revision.leftBehind, false),
  );
  const [previous] = await db()
    .select(brief)
    .from(revision)
    .where(and(own, sql`${revision.number} < ${number}`))
    .orderBy(desc(revision.number))
    .limit(1);
  const [next] = await db()
    .select(brief)
    .from(revision)
    .where(and(own, gt(revision.number, number)))
    .orderBy(revision.number)
    .limit(1);
  return { current, previous, next };
}

export async function historyOf(studyId: string): Promise<History> {
  const { current, previous, next } = await around(studyId);
  return { undo: previous ? (current?.what ?? null) : null, redo: next?.what ?? null };
}

/** The state one step back or forward, and what that step undoes or does; undefined at the end. */
export async function stepFrom(studyId: string, direction: 'undo' | 'redo') {
  const { current, previous, next } = await around(studyId);
  const neighbour = direction === 'undo' ? previous : next;
  if (!current || !neighbour) return undefined;
  const [target] = await db()
    .select()
    .from(revision)
    .where(
      and(
        eq(revision.studyId, studyId),
        eq(revision.number, neighbour.number),
        eq(revision.leftBehind, false),
      ),
    );
  return { target, what: direction === 'undo' ? current.what : target.what };
}

export async function pointTo(studyId: string, number: number): Promise<void> {
  await db().update(study).set({ revision: number }).where(eq(study.id, studyId));
}
