import * as z from 'zod';
import { DesignError } from '../design-error.ts';
import { sidesOfRows } from './sides-of-rows.ts';
import { side, type Split, type SplitContext } from './split.ts';

const choice = z.object({
  way: z.literal('as brought in'),
  /** Which allocation, of those kept with the study. */
  allocation: z.uuid(),
  /** The file it came in. */
  name: z.string().max(300),
});
type Choice = z.infer<typeof choice>;

/** A file says by identifier who stands where. Whoever it does not name is on neither side. */
export const asBroughtIn: Split<Choice> = {
  name: 'As a file says',
  about: 'A file with identifier and side says who stands where.',
  choice,
  byShare: () => false,
  columns: () => [],
  allocate,
};

function allocate(context: SplitContext, { name }: Choice): Uint8Array {
  const { patients, broughtIn } = context;
  if (!broughtIn) throw new DesignError(`The allocation of ${name} is not there any more.`);
  const known = new Map(broughtIn.patients.map((one) => [`id:${one.identifier}`, one.side]));
  const sideOf = Uint8Array.from(patients.keys, (key) => {
    const word = known.get(key);
    return word === undefined ? side.unused : side[word];
  });
  if (sideOf.every((one) => one === side.unused))
    throw new DesignError(
      `${name} names none of these patients: its identifiers are others than those of the cohort.`,
    );
  return sidesOfRows(context, sideOf);
}
