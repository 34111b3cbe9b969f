import { and, eq, isNull } from 'drizzle-orm';
import { db, tables } from '../ground/database/index.ts';
import { notFound } from '../ground/problem.ts';

const { study, cohort, candidate, screening, search, design } = tables;
const open = isNull(study.deletedAt);

/** How the study is found that something in an address belongs to; none where either is deleted. */
const owners = {
  study: (id: string) =>
    db()
      .select({ id: study.id })
      .from(study)
      .where(and(eq(study.id, id), open)),
  cohort: (id: string) =>
    db()
      .select({ id: study.id })
      .from(cohort)
      .innerJoin(study, eq(study.id, cohort.studyId))
      .where(and(eq(cohort.id, id), open, isNull(cohort.deletedAt))),
  candidate: (id: string) =>
    db()
      .select({ id: study.id })
      .from(candidate)
      .innerJoin(study, eq(study.id, candidate.studyId))
      .innerJoin(design, eq(design.id, candidate.designId))
      .innerJoin(cohort, eq(cohort.id, design.cohortId))
      .where(
        and(eq(candidate.id, id), open, isNull(candidate.deletedAt), isNull(cohort.deletedAt)),
      ),
  search: (id: string) =>
    db()
      .select({ id: study.id })
      .from(search)
      .innerJoin(study, eq(study.id, search.studyId))
      .innerJoin(design, eq(design.id, search.designId))
      .innerJoin(cohort, eq(cohort.id, design.cohortId))
      .where(and(eq(search.id, id), open, isNull(search.deletedAt), isNull(cohort.deletedAt))),
  screening: (id: string) =>
    db()
      .select({ id: study.id })
      .from(screening)
      .innerJoin(study, eq(study.id, screening.studyId))
      .innerJoin(cohort, eq(cohort.id, screening.cohortId))
      .innerJoin(candidate, eq(candidate.id, screening.candidateId))
      .where(
        and(eq(screening.id, id), open, isNull(cohort.deletedAt), isNull(candidate.deletedAt)),
      ),
};

const called: Record<keyof typeof owners, string> = {
  study: 'The study',
  cohort: 'The cohort',
  candidate: 'The candidate',
  search: 'The search',
  screening: 'The screening',
};

/**
 * Lets in only to what is there: every study, cohort, candidate, search and screening that an address names
 * must exist, and neither it nor its study may be deleted.
 */
export async function letIn(params: Record<string, string | undefined>): Promise<void> {
  for (const kind of Object.keys(owners) as (keyof typeof owners)[]) {
    const id = params[kind];
    if (id === undefined) continue;
    const [found] = await owners[kind](id).limit(1);
    if (!found) throw notFound(called[kind]);
  }
}
