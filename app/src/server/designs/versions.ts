import { and, count, desc, eq } from 'drizzle-orm';
import type { Design } from '@rook-scale/core/design';
import type { DesignVersion } from '../../contract/designs.ts';
import { db, inTurn, tables } from '../ground/database/index.ts';
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
export async function keepVersion(
  studyId: string,
  { name, choices }: { name: string; choices: Design },
): Promise<void> {
  await inTurn(studyId, async () => {
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
      .values({ studyId, name, choices })
      .onConflictDoNothing()
      .returning({ id: version.id });
    if (!made)
      throw new Problem(
        409,
        'name-taken',
        `There is a version named ${name} already. Give this one another name.`,
      );
    await announce(studyId);
  });
}

export async function forgetVersion(studyId: string, id: string): Promise<void> {
  await db()
    .delete(version)
    .where(and(eq(version.studyId, studyId), eq(version.id, id)));
  await announce(studyId);
}
