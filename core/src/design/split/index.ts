import * as z from 'zod';
import { asBroughtIn } from './as-brought-in.ts';
import { byChance } from './by-chance.ts';
import { byColumn } from './by-column.ts';
import { byDate } from './by-date.ts';
import { byGroup } from './by-group.ts';
import { byRows } from './by-rows.ts';
import { secondFile } from './second-file.ts';
import type { Split, SplitContext } from './split.ts';

/** Every way to set patients aside. */
const splits = {
  'by chance': byChance,
  'by group': byGroup,
  'by date': byDate,
  'by column': byColumn,
  'by rows': byRows,
  'as brought in': asBroughtIn,
  'second file': secondFile,
};

type Splits = typeof splits;
export type SplitWay = keyof Splits;
export type SplitChoice = { [Way in SplitWay]: z.infer<Splits[Way]['choice']> }[SplitWay];

export const splitSchema = z.discriminatedUnion(
  'way',
  Object.values(splits).map(({ choice }) => choice) as never,
) as unknown as z.ZodType<SplitChoice>;

export const splitWays = Object.keys(splits) as SplitWay[];

/** What is said of a way. */
export const aboutSplit = (way: SplitWay): Pick<Split<unknown>, 'name' | 'about'> => splits[way];

/** Whether the choice takes a share of the patients, or says itself who is held out. */
export const splitsByShare = (choice: SplitChoice) => any(choice).byShare(choice);

/** The columns that the choice goes by. */
export const columnsOfSplit = (choice: SplitChoice) => any(choice).columns(choice);

/** Sets patients aside as chosen; see `Split.allocate`. Throws where there is no such choice. */
export function allocateHeldOut(context: SplitContext, choice: SplitChoice): Uint8Array {
  return any(choice).allocate(context, any(choice).choice.parse(choice));
}

/** A way whose choice belongs to it: `SplitChoice` says so, this index type cannot. */
const any = ({ way }: SplitChoice) => splits[way] as unknown as Split<SplitChoice>;

export { side, type SplitContext } from './split.ts';
