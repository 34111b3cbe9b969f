import * as z from 'zod';
import { asBroughtIn } from './as-brought-in.ts';
import { byChance } from './by-chance.ts';
import { byGroup } from './by-group.ts';
import { eachGroup } from './each-group.ts';
import type { Dealt, Folds, FoldsContext } from './folds.ts';

/** Every way to deal patients into folds. */
const ways = {
  'by chance': byChance,
  'by group': byGroup,
  'each group': eachGroup,
  'as brought in': asBroughtIn,
};

type Ways = typeof ways;
export type FoldsWay = keyof Ways;
export type FoldsChoice = { [Way in FoldsWay]: z.infer<Ways[Way]['choice']> }[FoldsWay];

export const foldsSchema = z.discriminatedUnion(
  'way',
  Object.values(ways).map(({ choice }) => choice) as never,
) as unknown as z.ZodType<FoldsChoice>;

export const foldsWays = Object.keys(ways) as FoldsWay[];

/** What is said of a way. */
export const aboutFolds = (way: FoldsWay): Pick<Folds<unknown>, 'name' | 'about'> => ways[way];

/** The columns that the choice goes by. */
export const columnsOfFolds = (choice: FoldsChoice) => any(choice).columns(choice);

/** How often patients are dealt. */
export const repeatsOf = (choice: FoldsChoice): number =>
  choice.way === 'by chance' ? (choice.repeats ?? 1) : 1;

/** Deals patients into folds as chosen; see `Folds.allocate`. Throws where there is no such choice. */
export function allocateFolds(context: FoldsContext, choice: FoldsChoice): Dealt {
  const way = any(choice);
  const parsed = way.choice.parse(choice);
  const first = way.allocate(context, parsed);
  const repeats = repeatsOf(choice);
  if (repeats === 1) return first;
  const { length } = context.rows;
  const count = first.folds.reduce((most, fold) => Math.max(most, fold), -1) + 1;
  const folds = new Uint8Array(repeats * length);
  folds.set(first.folds);
  for (let repeat = 1; repeat < repeats; repeat++) {
    const seed = (context.seed + repeat * seedStep) % 2 ** 31;
    const again = way.allocate({ ...context, seed }, parsed).folds;
    folds.set(
      again.map((fold) => fold + repeat * count),
      repeat * length,
    );
  }
  return { folds };
}

/** Far enough apart that the next seeds that people try are not those of another's repeats. */
const seedStep = 104_729;

/** A way whose choice belongs to it: `FoldsChoice` says so, this index type cannot. */
const any = ({ way }: FoldsChoice) => ways[way] as unknown as Folds<FoldsChoice>;

export { mostFolds, type FoldsContext } from './folds.ts';
