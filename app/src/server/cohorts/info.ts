import { and, asc, count, eq, getTableColumns, isNull } from 'drizzle-orm';
import { createHash } from 'node:crypto';
import { keepsAll, selectionSchema } from '@rook-scale/core/selection';
import { readingOf, type Dictionary } from '@rook-scale/core/table';
import { db, tables } from '../ground/database/index.ts';
import { notFound } from '../ground/problem.ts';
import type { CohortPurpose, CohortInfo } from '../../contract/cohorts.ts';

export async function cohortInfo(id: string): Promise<CohortInfo> {
  const [found] = await selectCohorts(eq(tables.cohort.id, id));
  if (!found) throw notFound('The cohort');
  return found;
}

/** The development cohort of a study, if there is one yet. */
export async function developmentCohort(studyId: string): Promise<CohortInfo | undefined> {
  const [found] = await selectCohorts(
    and(eq(tables.cohort.studyId, studyId), eq(tables.cohort.purpose, 'development')),
  );
  return found;
}

export async function screeningCohorts(studyId: string): Promise<CohortInfo[]> {
  return selectCohorts(
    and(eq(tables.cohort.studyId, studyId), eq(tables.cohort.purpose, 'screening')),
  );
}

async function selectCohorts(where: ReturnType<typeof and>): Promise<CohortInfo[]> {
  const { kept: _, ...columns } = getTableColumns(tables.cohort);
  const found = await db()
    // Of the file only what is shown: what one pass over it found is long.
    .select({
      cohort: columns,
      file: {
        name: tables.upload.fileName,
        size: tables.upload.size,
        sha256: tables.upload.sha256,
      },
    })
    .from(tables.cohort)
    .innerJoin(tables.upload, eq(tables.upload.id, tables.cohort.uploadId))
    .where(and(where, isNull(tables.cohort.deletedAt)))
    .orderBy(asc(tables.cohort.createdAt));
  return found.map(({ cohort, file }) => ({
    ...cohort,
    // The database keeps keys in an order of its own.
    selection: selectionSchema.parse(cohort.selection),
    createdAt: cohort.createdAt.toISOString(),
    file,
  }));
}

/** Cohorts of a study for this purpose that are not deleted. */
function isThere(studyId: string, purpose: CohortPurpose) {
  const { cohort } = tables;
  return and(eq(cohort.studyId, studyId), eq(cohort.purpose, purpose), isNull(cohort.deletedAt));
}

/** The development cohort of a study as the frame of every page shows it. */
export async function developmentInBrief(studyId: string) {
  const { name, rowCount, dictionary } = tables.cohort;
  const [found] = await db()
    .select({ name, rowCount, dictionary })
    .from(tables.cohort)
    .where(isThere(studyId, 'development'));
  return found as { name: string; rowCount: number; dictionary: Dictionary } | undefined;
}

/** The cohort that was made of this upload already, where the same is asked for twice. */
export async function sameUpload(
  studyId: string,
  purpose: CohortPurpose,
  uploadId: string,
): Promise<string | undefined> {
  const [found] = await db()
    .select({ id: tables.cohort.id })
    .from(tables.cohort)
    .where(and(isThere(studyId, purpose), eq(tables.cohort.uploadId, uploadId)))
    .limit(1);
  return found?.id;
}

/** How many lists a study has. */
export async function countLists(studyId: string): Promise<number> {
  const [{ lists }] = await db()
    .select({ lists: count() })
    .from(tables.cohort)
    .where(isThere(studyId, 'screening'));
  return lists;
}

/** Changes when a fit on this cohort could give other numbers. */
export function cohortFingerprint(cohort: CohortInfo): string {
  const read = cohort.dictionary.map(readingOf);
  const identifier = cohort.dictionary.find((entry) => entry.role === 'identifier')?.name;
  // A selection of everybody is as it was before there were selections.
  const selected = keepsAll(cohort.selection) ? [] : [cohort.selection];
  const counts = cohort.dictionary.find((entry) => entry.role === 'number of patients')?.name;
  return createHash('sha256')
    .update(
      JSON.stringify([
        cohort.id,
        cohort.file.sha256,
        identifier ?? null,
        read,
        ...selected,
        ...(counts === undefined ? [] : [{ counts }]),
      ]),
    )
    .digest('hex');
}
