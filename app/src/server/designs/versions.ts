import { randomUUID } from 'node:crypto';
import { and, count, desc, eq } from 'drizzle-orm';
import type { Design } from '@rook-scale/core/design';
import type { DesignVersion } from '../../contract/designs.ts';
import { atOnce, db, inTurn, tables } from '../ground/database/index.ts';
import { recordAct, type Changed } from '../acts/index.ts';
import { Problem } from '../ground/problem.ts';
import { announce } from '../jobs/index.ts';

const { designVersion: version } = tables;

/** Versions that a study keeps, at most. */
const most = 100;

/** The designs that a study keeps under names, the latest first. */
export async function listVersions(studyId: string): Promise<DesignVersion[]> {
  const rows = await db()
    .select({ id: version.id, name: version.name, choices: version.choices, at: version.at })
    .from(version)
    .where(eq(version.studyId, studyId))
    .orderBy(desc(version.at));
  return rows.map((row) => ({ ...row, at: row.at.toISOString() }));
}

/** Keeps a design under a name. Throws a Problem where the name is taken. */
export const keepVersion = (
  studyId: string,
  kept: { name: string; choices: Design },
): Promise<void> => setVersion(`${studyId} ${randomUUID()}`, kept);

export const forgetVersion = (studyId: string, id: string): Promise<void> =>
  setVersion(`${studyId} ${id}`, null);

/** What is kept at a place, its study and its id; null for nothing. */
export async function versionAt(place: string): Promise<Changed['version']> {
  const { studyId, id } = readPlace(place);
  const [found] = await db()
    .select({ name: version.name, choices: version.choices })
    .from(version)
    .where(and(eq(version.studyId, studyId), eq(version.id, id)));
  return found ?? null;
}

/** Keeps a design at a place, or forgets it. */
export async function setVersion(place: string, after: Changed['version']): Promise<void> {
  const { studyId, id } = readPlace(place);
  await inTurn(studyId, () =>
    atOnce(async () => {
      const before = await versionAt(place);
      if (!before && !after) return;
      if (after) await insert(studyId, id, after);
      else await db().delete(version).where(eq(version.id, id));
      const { name } = (after ?? before)!;
      await recordAct(studyId, after ? `design kept as ${name}` : `design ${name} forgotten`, {
        ...{ kind: 'value', of: 'version', id: place, before, after },
      });
      await announce(studyId);
    }),
  );
}

async function insert(
  studyId: string,
  id: string,
  { name, choices }: NonNullable<Changed['version']>,
): Promise<void> {
  const [{ kept }] = await db()
    .select({ kept: count() })
    .from(version)
    .where(eq(version.studyId, studyId));
  if (kept >= most)
    throw new Problem(
      409,
      'many-versions',
      `${most} versions are kept already. Forget some first.`,
    );
  const [made] = await db()
    .insert(version)
    .values({ id, studyId, name, choices })
    .onConflictDoNothing()
    .returning({ id: version.id });
  if (!made)
    throw new Problem(
      409,
      'name-taken',
      `There is a version named ${name} already. Give this one another name.`,
    );
}

const readPlace = (place: string) => ({ studyId: place.slice(0, 36), id: place.slice(37) });
