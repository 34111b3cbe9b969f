import { and, eq, sql } from 'drizzle-orm';
import type { Design } from '@rook-scale/core/design';
import { selectionSchema, type Selection } from '@rook-scale/core/selection';
import type { Dictionary } from '@rook-scale/core/table';
import { atOnce, db, tables } from '../ground/database/index.ts';
import type { SecondFile } from '../../contract/cohorts.ts';
import { notFound } from '../ground/problem.ts';

export interface RevisionState {
  what: string;
  dictionary: Dictionary;
  choices: Design;
  selection: Selection;
  uploadId: string;
  second: SecondFile | null;
}

const { revision, study } = tables;

/**
 * Keeps what dictionary and design are after a change.
 *
 * @returns ids of the revision before, of the same cohort, and of this one
 */
export async function recordRevision(
  studyId: string,
  cohortId: string,
  state: RevisionState,
): Promise<{ before?: number; after: number }> {
  return atOnce(async () => {
    const [current] = await db()
      .select({ id: revision.id })
      .from(revision)
      .innerJoin(study, and(eq(study.id, revision.studyId), eq(study.revision, revision.number)))
      .where(
        and(
          eq(revision.studyId, studyId),
          eq(revision.cohortId, cohortId),
          eq(revision.leftBehind, false),
        ),
      );
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
    const [{ id: after }] = await db()
      .insert(revision)
      .values({ studyId, cohortId, number, ...state })
      .returning({ id: revision.id });
    return { before: current?.id, after };
  });
}

/** A revision of a study by its id; a Problem where it is gone. */
export async function stateOf(
  studyId: string,
  id: number,
): Promise<RevisionState & { cohortId: string }> {
  const [found] = await db()
    .select()
    .from(revision)
    .where(and(eq(revision.studyId, studyId), eq(revision.id, id)));
  if (!found) throw notFound('The revision');
  // What JSON columns give back has its fields in another order; what is compared as text needs the one of the schema.
  return { ...found, selection: selectionSchema.parse(found.selection) };
}
