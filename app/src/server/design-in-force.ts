import { and, eq, isNull } from 'drizzle-orm';
import { openQuestions } from '@rook-scale/core/design';
import { db, tables } from './ground/database/index.ts';
import type { DesignState } from '../contract/designs.ts';

export async function currentDesign(studyId: string): Promise<DesignState | undefined> {
  const [found] = await db()
    .select({
      design: tables.design,
      counts: tables.division.counts,
      patients: tables.division.patients,
      dictionary: tables.cohort.dictionary,
    })
    .from(tables.study)
    .innerJoin(tables.design, eq(tables.design.id, tables.study.designId))
    .innerJoin(tables.cohort, eq(tables.cohort.id, tables.design.cohortId))
    .leftJoin(tables.division, eq(tables.division.id, tables.design.divisionId))
    .where(and(eq(tables.study.id, studyId), isNull(tables.cohort.deletedAt)));
  if (!found) return undefined;
  const { id, divisionId, obstacle, fitKey: key } = found.design;
  const { choices } = found.design;
  return {
    id,
    choices,
    fitKey: key,
    divisionId,
    patients: found.patients,
    counts: found.counts,
    questions: openQuestions(choices, found.dictionary),
    obstacle,
  };
}
