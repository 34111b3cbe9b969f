import { eq, sql } from 'drizzle-orm';
import { familyOf, type Settings } from '@rook-scale/core/families';
import { fewerFits, groupsOf, type FewerPlan } from '@rook-scale/core/search';
import { db, tables } from '../ground/database/index.ts';
import type { SearchRow } from './store.ts';

/** Only what was fitted on single folds: what nested folds and half samples told is no out-of-fold prediction. */
export const ofFolds = sql`${tables.searchPiece.part} like 'fold %'`;

/** Rows that one statement writes. */
const atATime = 2000;

/** Writes the pieces of a round: each fit, on each part. */
export async function addPieces(
  { id, family, plan }: Pick<SearchRow, 'id' | 'family' | 'plan'>,
  trials: { number: number; settings: Settings }[],
  round: number,
  parts: string[],
): Promise<void> {
  const groups =
    (plan.fewer ?? plan.growing)
      ? [Array.from(trials.keys())]
      : groupsOf(
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
      // The other parts of a selection only rank.
      trials: ranksOnly(part) ? [] : group.map((place) => trials[place].number),
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

/** Names of the parts that a search fits: folds, and where predictors are selected all patients and half samples. */
export const partNames = (folds: number, fewer?: FewerPlan): string[] => [
  ...numbered('fold', folds),
  ...(fewer && fewer.way !== 'sets' ? ['all', ...numbered('half', fewer.halves)] : []),
];

const numbered = (what: string, count: number): string[] =>
  Array.from({ length: count }, (_, i) => `${what} ${i + 1}`);

const isFold = (part: string): boolean => part.startsWith('fold ');

const ranksOnly = (part: string): boolean => part === 'all' || part.startsWith('half ');

/** Fits that a part takes, of a selection or of so many settings. */
export function workOf(
  { family, plan }: Pick<SearchRow, 'family' | 'plan'>,
  settings: Settings[],
  predictors: number,
): (part: string) => number {
  if (!plan.fewer) {
    const fits = plan.growing ? settings.length : fitsOf(family, settings);
    return () => fits;
  }
  const { fold, all, half } = fewerFits(plan.fewer, predictors);
  return (part) => (isFold(part) ? fold : part === 'all' ? all : half);
}
