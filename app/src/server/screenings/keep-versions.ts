import { and, eq, isNull } from 'drizzle-orm';
import { db, tables } from '../ground/database/index.ts';
import { versionBefore } from './view.ts';

/** Gives lists that were scored before versions were kept the version of now, which they keep from here on. */
export async function keepVersionsOfLists(): Promise<void> {
  const { screening, candidate } = tables;
  const rows = await db()
    .select({ screening, candidate })
    .from(screening)
    .innerJoin(candidate, eq(candidate.id, screening.candidateId))
    .where(and(isNull(screening.scoredWith), isNull(candidate.deletedAt)));
  for (const { screening: row, candidate: scorer } of rows)
    await db()
      .update(screening)
      .set({ scoredWith: await versionBefore(row, scorer) })
      .where(and(eq(screening.id, row.id), isNull(screening.scoredWith)));
}
