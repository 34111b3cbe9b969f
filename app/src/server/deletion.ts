import { and, desc, eq, gt, inArray, isNotNull, isNull, lt, sql, type SQL } from 'drizzle-orm';
import { cancelFit, candidateLight, candidateName, candidateRow } from './candidates.ts';
import { cohortInfo } from './cohorts/index.ts';
import { db, tables } from './database/index.ts';
import { announce } from './jobs/index.ts';
import { notFound, Problem } from './problem.ts';
import { forgetOldUploads } from './uploads.ts';

/** Something deleted within the last day, which can still be brought back. */
export interface Deleted {
  what: 'study' | 'cohort' | 'candidate';
  id: string;
  name: string;
  study: string;
  at: Date;
}

const kept = sql`now() - interval '1 day'`;
const now = sql`now()`;
const { study, cohort, candidate, design } = tables;

export async function deleteStudy(id: string): Promise<void> {
  await cancelFits(eq(candidate.studyId, id));
  await db().update(study).set({ deletedAt: now }).where(eq(study.id, id));
  await announce(id);
}

/** A list goes with its scores; the development cohort with the design and the candidates made on it. */
export async function deleteCohort(id: string): Promise<void> {
  const { studyId, purpose } = await cohortInfo(id);
  if (purpose === 'development') await cancelFits(eq(candidate.studyId, studyId));
  await db().update(cohort).set({ deletedAt: now }).where(eq(cohort.id, id));
  await announce(studyId);
}

export async function deleteCandidate(id: string): Promise<void> {
  const { studyId, family } = await candidateRow(id);
  if (family === 'reference')
    throw new Problem(
      409,
      'reference-stays',
      'The reference candidate is always there to compare with.',
    );
  await cancelFit(id);
  await db().update(candidate).set({ deletedAt: now }).where(eq(candidate.id, id));
  await announce(studyId);
}

async function cancelFits(where: SQL): Promise<void> {
  const running = await db()
    .select({ id: candidate.id })
    .from(candidate)
    .where(and(where, inArray(candidate.state, ['waiting', 'fitting'])));
  for (const { id } of running) await cancelFit(id);
}

export async function restoreStudy(id: string): Promise<void> {
  const [back] = await db()
    .update(study)
    .set({ deletedAt: null })
    .where(eq(study.id, id))
    .returning({ id: study.id });
  if (!back) throw notFound('The study');
  await announce(id);
}

export async function restoreCohort(id: string): Promise<void> {
  const [found] = await db().select().from(cohort).where(eq(cohort.id, id));
  if (!found) throw notFound('The cohort');
  const { studyId, purpose } = found;
  if (purpose === 'development') {
    const [other] = await db()
      .select({ name: cohort.name })
      .from(cohort)
      .where(
        and(
          eq(cohort.studyId, studyId),
          eq(cohort.purpose, 'development'),
          isNull(cohort.deletedAt),
        ),
      );
    if (other)
      throw new Problem(
        409,
        'cohort-there',
        `The study is built on ${other.name} by now. Delete that first, then bring ${found.name} back.`,
      );
  }
  await db().update(cohort).set({ deletedAt: null }).where(eq(cohort.id, id));
  if (purpose === 'development') await takeUpDesign(studyId, id);
  await announce(studyId);
}

/** Another cohort may have had its own design since: the last one of this cohort is in force again. */
async function takeUpDesign(studyId: string, cohortId: string): Promise<void> {
  const [last] = await db()
    .select({ id: design.id })
    .from(design)
    .where(eq(design.cohortId, cohortId))
    .orderBy(desc(design.createdAt))
    .limit(1);
  const [revision] = await db()
    .select({ number: tables.revision.number })
    .from(tables.revision)
    .where(and(eq(tables.revision.cohortId, cohortId), eq(tables.revision.leftBehind, false)))
    .orderBy(desc(tables.revision.number))
    .limit(1);
  await db()
    .update(study)
    .set({ designId: last?.id ?? null, ...(revision && { revision: revision.number }) })
    .where(eq(study.id, studyId));
}

export async function restoreCandidate(id: string): Promise<void> {
  const [back] = await db()
    .update(candidate)
    .set({ deletedAt: null })
    .where(eq(candidate.id, id))
    .returning({ studyId: candidate.studyId });
  if (!back) throw notFound('The candidate');
  await announce(back.studyId);
}

/** What was deleted within the last day, the latest first. */
export async function listDeleted(): Promise<Deleted[]> {
  const [studies, cohorts, candidates] = await Promise.all([
    db().select().from(study).where(gt(study.deletedAt, kept)),
    db()
      .select({
        cohort: { id: cohort.id, name: cohort.name, deletedAt: cohort.deletedAt },
        study,
      })
      .from(cohort)
      .innerJoin(study, eq(study.id, cohort.studyId))
      .where(and(gt(cohort.deletedAt, kept), isNull(study.deletedAt))),
    db()
      .select({ candidate: candidateLight, study })
      .from(candidate)
      .innerJoin(study, eq(study.id, candidate.studyId))
      .where(and(gt(candidate.deletedAt, kept), isNull(study.deletedAt))),
  ]);
  const all: Deleted[] = [
    ...studies.map((one) => ({
      what: 'study' as const,
      id: one.id,
      name: one.name,
      study: one.name,
      at: one.deletedAt!,
    })),
    ...cohorts.map(({ cohort: one, study: of }) => ({
      what: 'cohort' as const,
      id: one.id,
      name: one.name,
      study: of.name,
      at: one.deletedAt!,
    })),
    ...candidates.map(({ candidate: one, study: of }) => ({
      what: 'candidate' as const,
      id: one.id,
      name: candidateName(one),
      study: of.name,
      at: one.deletedAt!,
    })),
  ];
  return all.sort((a, b) => b.at.getTime() - a.at.getTime());
}

/** Ends what was deleted over a day ago, and files that never became a cohort. */
export async function clearAway(): Promise<void> {
  await db()
    .delete(candidate)
    .where(and(isNotNull(candidate.deletedAt), lt(candidate.deletedAt, kept)));
  const gone = await db()
    .select({ id: cohort.id })
    .from(cohort)
    .where(and(isNotNull(cohort.deletedAt), lt(cohort.deletedAt, kept)));
  for (const { id } of gone) await endCohort(id);
  await db()
    .delete(study)
    .where(and(isNotNull(study.deletedAt), lt(study.deletedAt, kept)));
  await forgetOldUploads();
}

/** Candidates stand on designs, and designs on the cohort: they go first. */
async function endCohort(id: string): Promise<void> {
  await db().transaction(async (tx) => {
    const designs = tx.select({ id: design.id }).from(design).where(eq(design.cohortId, id));
    await tx.delete(candidate).where(sql`${candidate.designId} in ${designs}`);
    await tx.delete(cohort).where(eq(cohort.id, id));
  });
}
