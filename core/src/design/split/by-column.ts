import * as z from 'zod';
import { columnOf, wordsOf } from '../columns.ts';
import { DesignError } from '../design-error.ts';
import { refuseTornPatients } from './sides-of-rows.ts';
import { side, type Split, type SplitContext } from './split.ts';

const choice = z.object({
  way: z.literal('by column'),
  column: z.string(),
  /** The levels that are held out, and those that are sealed; who has another is for development. */
  heldOut: z.array(z.string()).max(1000),
  sealed: z.array(z.string()).max(1000).default([]),
});
type Choice = z.infer<typeof choice>;

/** A column says who is held out. Whoever it says nothing of is on neither side. */
export const byColumn: Split<Choice> = {
  name: 'By a column that marks them',
  about: 'A column of the file says who is held out.',
  choice,
  byShare: () => false,
  columns: ({ column }) => [column],
  allocate,
};

function allocate({ patients, strata, table }: SplitContext, choice: Choice): Uint8Array {
  const { column, label } = columnOf(table, choice.column);
  if (column.type !== 'coded')
    throw new DesignError(`${label} has no levels that could mark who is held out.`);
  if (choice.heldOut.length === 0)
    throw new DesignError(`Choose which levels of ${label} are held out.`);
  const [heldOut, sealed] = [new Set(choice.heldOut), new Set(choice.sealed)];
  const sides = Uint8Array.from(wordsOf(table, choice.column), (level, row) => {
    if (strata[row] < 0 || level === '') return side.unused;
    if (heldOut.has(level)) return side.heldOut;
    return sealed.has(level) ? side.sealed : side.development;
  });
  refuseTornPatients(patients, sides, label);
  return sides;
}
