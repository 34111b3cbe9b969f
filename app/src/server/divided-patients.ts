import { eq } from 'drizzle-orm';
import type { CohortInfo } from '../contract/cohorts.ts';
import { cohortFingerprint, cohortInfo } from './cohorts/index.ts';
import { db, tables } from './ground/database/index.ts';
import { Problem } from './ground/problem.ts';

/**
 * The cohort that a design divides, and on which side each patient is.
 *
 * @param sentence what is said where the patients are others by now: rows would be anybody's
 */
export async function dividedPatients(
  designId: string,
  sentence: string,
): Promise<{ cohort: CohortInfo; sides: Uint8Array }> {
  const [found] = await db()
    .select({ cohortId: tables.design.cohortId, division: tables.division })
    .from(tables.design)
    .innerJoin(tables.division, eq(tables.division.id, tables.design.divisionId))
    .where(eq(tables.design.id, designId));
  const cohort = await cohortInfo(found.cohortId);
  const { sides, patients } = found.division;
  if (sides.length !== cohort.rowCount || patients !== cohortFingerprint(cohort))
    throw new Problem(409, 'other-patients', sentence);
  return { cohort, sides };
}
