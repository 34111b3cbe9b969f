import { eq, sql } from 'drizzle-orm';
import { familyOf, type Settings } from '@rook-scale/core/families';
import { groupsOf } from '@rook-scale/core/search';
import { db, tables } from '../ground/database/index.ts';

/** Rows that one statement writes. */
const atATime = 2000;

/** Writes the pieces of a round: each fit, on each part. */
export async function addPieces(
  { id, family }: { id: string; family: string },
  trials: { number: number; settings: Settings }[],
  round: number,
  parts: string[],
): Promise<void> {
  const groups = groupsOf(
    familyOf(family).description,
    trials.map(({ settings }) => settings),
  );
  const { searchPiece } = tables;
  const [{ next }] = await db()
    .select({ next: sql<number>`coalesce(max(${searchPiece.number}) + 1, 0)::int` })
    .from(searchPiece)
    .where(eq(searchPiece.searchId, id));
  const pieces = groups.flatMap((group, g) =>
    parts.map((part, p) => ({
      searchId: id,
      number: next + g * parts.length + p,
      round,
      part,
      trials: group.map((place) => trials[place].number),
    })),
  );
  for (let from = 0; from < pieces.length; from += atATime)
    await db()
      .insert(searchPiece)
      .values(pieces.slice(from, from + atATime));
}

/** Fits that so many settings take on one part. */
export const fitsOf = (family: string, settings: Settings[]): number =>
  groupsOf(familyOf(family).description, settings).length;

/** Names of the parts that a search fits: all of a candidate's but that of all patients. */
export const partNames = (folds: number): string[] =>
  Array.from({ length: folds }, (_, fold) => `fold ${fold + 1}`);
