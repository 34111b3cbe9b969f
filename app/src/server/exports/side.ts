import { eq } from 'drizzle-orm';
import { side as sideCodes } from '@rook-scale/core/design';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { db, tables } from '../ground/database/index.ts';
import { currentDesign } from '../design-in-force.ts';
import { Problem } from '../ground/problem.ts';

/** Which patients of a cohort are taken out. */
export const sides = ['all', 'development', 'held out'] as const;
export type Side = (typeof sides)[number];

/** Their rows; undefined for all. */
export async function rowsOfSide(cohort: CohortInfo, side: Side): Promise<Int32Array | undefined> {
  if (side === 'all') return undefined;
  const design = await currentDesign(cohort.studyId);
  if (cohort.purpose !== 'development' || !design?.divisionId)
    throw new Problem(
      409,
      'no-split',
      'These patients are not split yet. Complete the design first.',
    );
  const [{ sides: codes }] = await db()
    .select({ sides: tables.division.sides })
    .from(tables.division)
    .where(eq(tables.division.id, design.divisionId));
  const wanted = side === 'development' ? sideCodes.development : sideCodes.heldOut;
  const rows: number[] = [];
  codes.forEach((code, row) => code === wanted && rows.push(row));
  return Int32Array.from(rows);
}
