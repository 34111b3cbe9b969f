import { and, eq, isNull } from 'drizzle-orm';
import { side } from '@rook-scale/core/design';
import type { CohortInfo } from '../contract/cohorts.ts';
import { cohortFingerprint, cohortInfo, keptRows } from './cohorts/index.ts';
import { asBytes, asIntegers } from './files/index.ts';
import { db, tables } from './ground/database/index.ts';
import { hasAgreed } from './ground/person.ts';
import { Problem } from './ground/problem.ts';

/** Patients whose held-out or sealed results were shown: rows of their file, in order. */
export interface Shown {
  cohortId: string | null;
  rows: Int32Array | null;
}

/** Who is on one side of the division of a design, as rows of the file; nothing where the patients are others by now. */
export async function rowsShown(designId: string, which: 'heldOut' | 'sealed'): Promise<Shown> {
  const none = { cohortId: null, rows: null };
  const [found] = await db()
    .select({
      cohortId: tables.design.cohortId,
      sides: tables.division.sides,
      patients: tables.division.patients,
    })
    .from(tables.design)
    .innerJoin(tables.division, eq(tables.division.id, tables.design.divisionId))
    .where(eq(tables.design.id, designId));
  if (!found) return none;
  const cohort = await cohortInfo(found.cohortId).catch(() => undefined);
  if (!cohort || found.patients !== cohortFingerprint(cohort)) return none;
  return { cohortId: cohort.id, rows: onSide(found.sides, side[which], await keptRows(cohort)) };
}

/** The same as they are kept. */
export const asKept = ({ cohortId, rows }: Shown) => ({
  cohortId,
  rows: rows ? asBytes(rows) : null,
});

/** All patients of a cohort whose results any look or opening has shown, as rows of the file. */
export async function seenRows({ id, studyId }: CohortInfo): Promise<Set<number>> {
  const [looks, openings] = await Promise.all([
    db()
      .select({ rows: tables.look.rows })
      .from(tables.look)
      .where(
        and(
          eq(tables.look.studyId, studyId),
          eq(tables.look.cohortId, id),
          isNull(tables.look.besides),
        ),
      ),
    db()
      .select({ rows: tables.sealedOpening.rows })
      .from(tables.sealedOpening)
      .where(and(eq(tables.sealedOpening.studyId, studyId), eq(tables.sealedOpening.cohortId, id))),
  ]);
  const seen = new Set<number>();
  for (const { rows } of [...looks, ...openings])
    if (rows) for (const row of asIntegers(rows)) seen.add(row);
  return seen;
}

/**
 * Patients whose results were shown and who would become development patients: a Problem asks, unless whoever asked
 * has agreed to it.
 *
 * @param now sides of the division in force, of the cohort as it is; undefined while there is none
 * @param then sides as they would be, and rows of the file that they are of
 * @returns how many, all agreed to
 */
export async function askAboutSeen(
  cohort: CohortInfo,
  now: Uint8Array | undefined,
  then: { sides: Uint8Array; fileRows: ArrayLike<number> | undefined },
): Promise<number> {
  const seen = await seenRows(cohort);
  if (seen.size === 0) return 0;
  const already = new Set(now && onSide(now, side.development, await keptRows(cohort)));
  const moved = onSide(then.sides, side.development, then.fileRows).filter(
    (row) => seen.has(row) && !already.has(row),
  ).length;
  if (moved > 0 && !hasAgreed('move seen patients'))
    throw new Problem(
      409,
      'seen-patients',
      `Of ${seen.size} patients whose held-out or sealed results were shown, ${moved} would become development patients. Candidates would then learn from patients who have judged them.`,
    );
  return moved;
}

function onSide(
  sides: Uint8Array,
  wanted: number,
  fileRows: ArrayLike<number> | undefined,
): Int32Array {
  const rows: number[] = [];
  sides.forEach((one, row) => {
    if (one === wanted) rows.push(fileRows ? fileRows[row] : row);
  });
  return Int32Array.from(rows);
}

/** How patients who were shown stand to the split in force. */
export interface Standing {
  /** They are just the patients of that side. */
  isOfThisSplit: boolean;
  /** How many of them are held out, and how many are development patients by now. */
  heldOut: number;
  development: number;
}

/** How each of several groups of patients stands to the split in force; null where it is not known who they were. */
export async function standingOf(
  cohort: CohortInfo,
  divisionId: string,
  groups: { cohortId: string | null; rows: Buffer | null }[],
  which: 'heldOut' | 'sealed',
): Promise<(Standing | null)[]> {
  const [division] = await db()
    .select({ sides: tables.division.sides, patients: tables.division.patients })
    .from(tables.division)
    .where(eq(tables.division.id, divisionId));
  if (!division || division.patients !== cohortFingerprint(cohort)) return groups.map(() => null);
  const fileRows = await keptRows(cohort);
  const own = new Set(onSide(division.sides, side[which], fileRows));
  const heldOut = new Set(onSide(division.sides, side.heldOut, fileRows));
  const development = new Set(onSide(division.sides, side.development, fileRows));
  return groups.map(({ cohortId, rows: kept }) => {
    if (!kept || cohortId !== cohort.id) return null;
    const rows = asIntegers(kept);
    const among = (side: Set<number>) => rows.reduce((n, row) => n + Number(side.has(row)), 0);
    return {
      isOfThisSplit: rows.length === own.size && among(own) === own.size,
      heldOut: among(heldOut),
      development: among(development),
    };
  });
}
