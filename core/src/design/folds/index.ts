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

/** Deals patients into folds as chosen; see `Folds.allocate`. Throws where there is no such choice. */
export function allocateFolds(context: FoldsContext, choice: FoldsChoice): Dealt {
  return any(choice).allocate(context, any(choice).choice.parse(choice));
}

/** A way whose choice belongs to it: `FoldsChoice` says so, this index type cannot. */
const any = ({ way }: FoldsChoice) => ways[way] as unknown as Folds<FoldsChoice>;

export type { FoldsContext } from './folds.ts';
