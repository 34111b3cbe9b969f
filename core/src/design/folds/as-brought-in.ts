import * as z from 'zod';
import { DesignError } from '../design-error.ts';
import type { Dealt, Folds, FoldsContext } from './folds.ts';

const choice = z.object({ way: z.literal('as brought in') });
type Choice = z.infer<typeof choice>;

/** The file that says who is held out also says who is in which fold. */
export const asBroughtIn: Folds<Choice> = {
  name: 'As the file says',
  about: 'The file that says who is held out has the folds too.',
  choice,
  columns: () => [],
  allocate,
};

function allocate({ patients, rows, broughtIn }: FoldsContext): Dealt {
  const known = new Map(broughtIn?.patients.map((one) => [`id:${one.identifier}`, one.fold]));
  const said = Array.from(rows, (row) => known.get(patients.keys[patients.ofRow[row]]));
  const without = said.filter((fold) => fold === undefined).length;
  if (without > 0)
    throw new DesignError(
      `The file says no fold for ${without} of ${rows.length} development patients. Bring in one that does, or deal them by chance.`,
    );
  const numbers = [...new Set(said as number[])].sort((a, b) => a - b);
  if (numbers.length < 2) throw new DesignError('The file names one fold only; it takes two.');
  const places = new Map(numbers.map((number, fold) => [number, fold]));
  return { folds: Uint8Array.from(said, (number) => places.get(number!)!) };
}
