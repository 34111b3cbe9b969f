import { and, asc, eq, isNotNull } from 'drizzle-orm';
import { setsOf, steadiness, type FewerPlan } from '@rook-scale/core/search';
import type { SelectionShown } from '../../contract/searches.ts';
import { db, tables } from '../ground/database/index.ts';
import { predictorsOf, type SearchRow } from './store.ts';

/** What a search has selected so far: on all patients, and how often in its folds and in half samples. */
export async function selectionOf(
  row: Pick<SearchRow, 'id' | 'plan' | 'designId' | 'basis'>,
): Promise<SelectionShown> {
  const predictors = await predictorsOf(row);
  const fewer = row.plan.fewer!;
  if (fewer.way === 'sets') return { predictors, sets: setsOf(fewer, predictors) };
  const { searchPiece } = tables;
  const pieces = await db()
    .select({
      part: searchPiece.part,
      ranked: searchPiece.ranked,
      problem: searchPiece.problem,
    })
    .from(searchPiece)
    .where(and(eq(searchPiece.searchId, row.id), isNotNull(searchPiece.doneAt)))
    .orderBy(asc(searchPiece.number));
  const rankings = (kind: string) =>
    pieces.flatMap(({ part, ranked }) => (part.startsWith(kind) && ranked ? [ranked] : []));
  const [ofAll] = rankings('all');
  const problem = pieces.find(({ part }) => part === 'all')?.problem;
  return {
    predictors,
    ...(ofAll && { sets: setsOf(fewer, predictors, ofAll) }),
    ...(problem && { problem }),
    folds: timesOf(fewer, predictors, rankings('fold')),
    halves: timesOf(fewer, predictors, rankings('half')),
  };
}

const timesOf = (fewer: FewerPlan, predictors: string[], rankings: string[][]) => ({
  of: rankings.length,
  times: steadiness(fewer, predictors, rankings).map(({ times }) => times),
});
