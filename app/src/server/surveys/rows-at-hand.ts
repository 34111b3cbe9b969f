import { and, eq, isNull } from 'drizzle-orm';
import { rowsOn, side } from '@rook-scale/core/design';
import type { CohortInfo } from '../../contract/cohorts.ts';
import type { DesignState } from '../../contract/designs.ts';
import { db, tables } from '../ground/database/index.ts';
import { currentDesign } from '../design-in-force.ts';
import { announce } from '../jobs/index.ts';
import { Problem } from '../ground/problem.ts';

/** What a look of the survey is called among the looks. */
const lookName = 'Survey of all patients';

/**
 * The rows the survey may use: development patients from the moment there is a split, all of them
 * before that, and afterwards only with a counted look.
 */
export async function rowsAtHand(
  cohort: CohortInfo,
  design: DesignState | undefined,
  look: number | undefined,
): Promise<Int32Array> {
  if (!design?.divisionId) return Int32Array.from({ length: cohort.rowCount }, (_, row) => row);
  const [{ sides }] = await db()
    .select({ sides: tables.division.sides })
    .from(tables.division)
    .where(eq(tables.division.id, design.divisionId));
  if (look === undefined) return rowsOn(sides, side.development);
  // What is sealed is opened once, and not here.
  return Int32Array.from(sides.keys()).filter((row) => sides[row] !== side.sealed);
}

/** Counts a look that lets held-out patients into the survey. */
export async function takeSurveyLook(studyId: string): Promise<{ look: number }> {
  const design = await currentDesign(studyId);
  if (!design?.divisionId)
    throw new Problem(
      409,
      'no-split',
      'There is no split yet: the survey already shows every patient.',
    );
  const [{ look }] = await db()
    .insert(tables.look)
    .values({ studyId, candidateName: lookName })
    .returning({ look: tables.look.id });
  await announce(studyId);
  return { look };
}

/** Refuses a survey of all patients that no look was counted for. */
export async function checkLook(studyId: string, look: number | undefined): Promise<void> {
  if (look === undefined) return;
  const { id, studyId: ofStudy, candidateId, candidateName } = tables.look;
  const [found] = await db()
    .select({ id })
    .from(tables.look)
    .where(
      and(eq(id, look), eq(ofStudy, studyId), isNull(candidateId), eq(candidateName, lookName)),
    );
  if (!found)
    throw new Problem(
      403,
      'no-look',
      'Held-out patients are shown only after a look is counted. Choose "include held-out patients" on the page.',
    );
}
