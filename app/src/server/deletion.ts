import { and, desc, eq, gt, inArray, isNotNull, isNull, lt, sql, type SQL } from 'drizzle-orm';
import { union } from 'drizzle-orm/pg-core';
import { recordAct, type Thing } from './acts/index.ts';
import { cancelFit, candidateName, candidateRow } from './candidates/index.ts';
import { cohortInfo } from './cohorts/index.ts';
import { searchName, searchRow, stopSearch } from './searches/index.ts';
import { atOnce, db, inTurn, tables } from './ground/database/index.ts';
import { announce } from './jobs/index.ts';
import { notFound, Problem } from './ground/problem.ts';
import { forgetOldUploads, forgetUploads } from './intake/index.ts';
import type { Deleted } from '../contract/deleted.ts';

const kept = sql`now() - interval '1 day'`;
const now = sql`now()`;
const { study, cohort, candidate, design, search } = tables;

export async function deleteStudy(id: string): Promise<void> {
  await changing(id, async () => {
    await cancelFits(eq(candidate.studyId, id));
    await stopSearches(id);
    await db().update(study).set({ deletedAt: now }).where(eq(study.id, id));
  });
}

/** A list goes with its scores; the development cohort with the design and the candidates made on it. */
export async function deleteCohort(id: string): Promise<void> {
  const { studyId, purpose, name } = await cohortInfo(id);
  await changing(studyId, async () => {
    if (purpose === 'development') {
      await cancelFits(eq(candidate.studyId, studyId));
      await stopSearches(studyId);
    }
    await db().update(cohort).set({ deletedAt: now }).where(eq(cohort.id, id));
    await recordPresence(studyId, name, false, { what: 'cohort', id });
  });
}

export async function deleteCandidate(id: string): Promise<void> {
  const row = await candidateRow(id);
  const { studyId, family } = row;
  if (family === 'reference')
    throw new Problem(
      409,
      'reference-stays',
      'The reference candidate is always there to compare with.',
    );
  await changing(studyId, async () => {
    await cancelFits(eq(candidate.id, id));
    await db().update(candidate).set({ deletedAt: now }).where(eq(candidate.id, id));
    await recordPresence(studyId, candidateName(row), false, { what: 'candidate', id });
  });
}

/** The candidates that were made of it stay. */
export async function deleteSearch(id: string): Promise<void> {
  const row = await searchRow(id);
  const { studyId } = row;
  await changing(studyId, async () => {
    await stopSearch(id);
    await db().update(search).set({ deletedAt: now }).where(eq(search.id, id));
    await recordPresence(studyId, searchName(row), false, { what: 'search', id });
  });
}

/** Writes down that something was deleted or brought back, and how that is undone. */
const recordPresence = (
  studyId: string,
  name: string,
  made: boolean,
  thing: { what: Thing; id: string },
) =>
  recordAct(studyId, `${name} ${made ? 'brought back' : 'deleted'}`, {
    ...{ kind: 'presence', made, things: [thing] },
  });

/** One change of a study, all of it or nothing, called out to whoever looks at it. */
function changing(studyId: string, work: () => Promise<void>): Promise<void> {
  return inTurn(studyId, () =>
    atOnce(async () => {
      await work();
      await announce(studyId);
    }),
  );
}

async function cancelFits(where: SQL): Promise<void> {
  const running = await db()
    .select({ id: candidate.id })
    .from(candidate)
    .where(and(where, inArray(candidate.state, ['waiting', 'fitting'])));
  for (const { id } of running) await cancelFit(id);
}

async function stopSearches(studyId: string): Promise<void> {
  const running = await db()
    .select({ id: search.id })
    .from(search)
    .where(and(eq(search.studyId, studyId), inArray(search.state, ['waiting', 'running'])));
  for (const { id } of running) await stopSearch(id);
}

export async function restoreStudy(id: string): Promise<void> {
  await changing(id, async () => {
    const [back] = await db()
      .update(study)
      .set({ deletedAt: null })
      .where(eq(study.id, id))
      .returning({ id: study.id });
    if (!back) throw notFound('The study');
  });
}

export async function restoreCohort(id: string): Promise<void> {
  const [found] = await db().select().from(cohort).where(eq(cohort.id, id));
  if (!found) throw notFound('The cohort');
  const { studyId, purpose } = found;
  await changing(studyId, async () => {
    if (purpose === 'development') await refuseSecond(found);
    await db().update(cohort).set({ deletedAt: null }).where(eq(cohort.id, id));
    if (purpose === 'development') await takeUpDesign(studyId, id);
    await recordPresence(studyId, found.name, true, { what: 'cohort', id });
  });
}

async function refuseSecond({ studyId, name }: typeof cohort.$inferSelect): Promise<void> {
  const [other] = await db()
    .select({ name: cohort.name })
    .from(cohort)
    .where(
      and(eq(cohort.studyId, studyId), eq(cohort.purpose, 'development'), isNull(cohort.deletedAt)),
    );
  if (other)
    throw new Problem(
      409,
      'cohort-there',
      `The study is built on ${other.name} by now. Delete that first, then bring ${name} back.`,
    );
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
  const [found] = await db().select().from(candidate).where(eq(candidate.id, id));
  if (!found) throw notFound('The candidate');
  await changing(found.studyId, async () => {
    await db().update(candidate).set({ deletedAt: null }).where(eq(candidate.id, id));
    await recordPresence(found.studyId, candidateName(found), true, { what: 'candidate', id });
  });
}

export async function restoreSearch(id: string): Promise<void> {
  const [found] = await db().select().from(search).where(eq(search.id, id));
  if (!found) throw notFound('The search');
  await changing(found.studyId, async () => {
    await db().update(search).set({ deletedAt: null }).where(eq(search.id, id));
    await recordPresence(found.studyId, searchName(found), true, { what: 'search', id });
  });
}

/**
 * Ends something deleted for good, with its patients, before its day is over.
 *
 * @param name what it is called, typed by whoever wants it gone
 */
export async function eraseNow(what: Deleted['what'], id: string, name: string): Promise<void> {
  const found = (await listDeleted()).find((one) => one.what === what && one.id === id);
  if (!found)
    throw new Problem(
      409,
      'not-deleted',
      'Only what was deleted can be erased. It may have been brought back in another tab.',
    );
  if (name.trim() !== found.name.trim())
    throw new Problem(
      422,
      'other-name',
      `That is not its name. Nothing was erased; type ${found.name}.`,
    );
  await changing(found.studyId, async () => {
    const uploads = await uploadsOf(what, id);
    if (what === 'study') await db().delete(study).where(eq(study.id, id));
    else if (what === 'cohort') await endCohort(id);
    else if (what === 'search') await db().delete(search).where(eq(search.id, id));
    else await db().delete(candidate).where(eq(candidate.id, id));
    await forgetUploads(uploads);
  });
}

/** The files that what is erased was made of. */
async function uploadsOf(what: Deleted['what'], id: string): Promise<string[]> {
  if (what === 'candidate' || what === 'search') return [];
  const { revision } = tables;
  const ofCohorts = db()
    .select({ upload: cohort.uploadId })
    .from(cohort)
    .where(eq(what === 'study' ? cohort.studyId : cohort.id, id));
  const ofRevisions = db()
    .select({ upload: revision.uploadId })
    .from(revision)
    .where(eq(what === 'study' ? revision.studyId : revision.cohortId, id));
  return (await union(ofCohorts, ofRevisions)).map(({ upload }) => upload);
}

/** What was deleted within the last day, the latest first. */
export async function listDeleted(): Promise<Deleted[]> {
  const [studies, cohorts, candidates, searches] = await Promise.all([
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
      .select({ candidate: tables.candidate, study })
      .from(candidate)
      .innerJoin(study, eq(study.id, candidate.studyId))
      .where(and(gt(candidate.deletedAt, kept), isNull(study.deletedAt))),
    db()
      .select({ search: tables.search, study })
      .from(search)
      .innerJoin(study, eq(study.id, search.studyId))
      .where(and(gt(search.deletedAt, kept), isNull(study.deletedAt))),
  ]);
  const all: Deleted[] = [
    ...studies.map((one) => ({
      what: 'study' as const,
      id: one.id,
      name: one.name,
      study: one.name,
      studyId: one.id,
      at: one.deletedAt!.toISOString(),
    })),
    ...cohorts.map(({ cohort: one, study: of }) => ({
      what: 'cohort' as const,
      id: one.id,
      name: one.name,
      study: of.name,
      studyId: of.id,
      at: one.deletedAt!.toISOString(),
    })),
    ...candidates.map(({ candidate: one, study: of }) => ({
      what: 'candidate' as const,
      id: one.id,
      name: candidateName(one),
      study: of.name,
      studyId: of.id,
      at: one.deletedAt!.toISOString(),
    })),
    ...searches.map(({ search: one, study: of }) => ({
      what: 'search' as const,
      id: one.id,
      name: searchName(one),
      study: of.name,
      studyId: of.id,
      at: one.deletedAt!.toISOString(),
    })),
  ];
  return all.sort((a, b) => b.at.localeCompare(a.at));
}

/** Ends what was deleted over a day ago, and files that never became a cohort. */
export async function clearAway(): Promise<void> {
  await db()
    .delete(candidate)
    .where(and(isNotNull(candidate.deletedAt), lt(candidate.deletedAt, kept)));
  await db()
    .delete(search)
    .where(and(isNotNull(search.deletedAt), lt(search.deletedAt, kept)));
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

/** Candidates and searches stand on designs, and designs on the cohort: they go first. */
async function endCohort(id: string): Promise<void> {
  await atOnce(async () => {
    const designs = db().select({ id: design.id }).from(design).where(eq(design.cohortId, id));
    await db()
      .delete(candidate)
      .where(sql`${candidate.designId} in ${designs}`);
    await db()
      .delete(search)
      .where(sql`${search.designId} in ${designs}`);
    await db()
      .update(study)
      .set({ designId: null })
      .where(sql`${study.designId} in ${designs}`);
    await db().delete(cohort).where(eq(cohort.id, id));
  });
}
