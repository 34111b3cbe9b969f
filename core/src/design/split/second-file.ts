import * as z from 'zod';
import { DesignError } from '../design-error.ts';
import { firstOf, tornPatients } from './sides-of-rows.ts';
import { side, type Split, type SplitContext } from './split.ts';

const choice = z.object({
  way: z.literal('second file'),
  /** The file. */
  name: z.string().max(300),
  /** Its first row below those of the first file, the row under the head being 1. */
  from: z.number().int().min(2),
});
type Choice = z.infer<typeof choice>;

/** Patients of a file of their own, such as another hospital's: the strictest check there is. */
export const secondFile: Split<Choice> = {
  name: 'A second file',
  about: 'All patients of a second file are held out; all of the first are for development.',
  choice,
  byShare: () => false,
  columns: () => [],
  allocate,
};

function allocate(context: SplitContext, { name, from }: Choice): Uint8Array {
  const { patients, strata, fileRows } = context;
  const inSecond = Uint8Array.from({ length: strata.length }, (_, row) =>
    (fileRows?.[row] ?? row + 1) >= from ? 1 : 0,
  );
  if (!inSecond.includes(1)) throw new DesignError(`No patient of ${name} is in.`);
  const sides = inSecond.map((second, row) =>
    strata[row] < 0 ? side.unused : second ? side.heldOut : side.development,
  );
  // Also where the outcome is known in one of the files only: it is the same patient.
  const torn = tornPatients(patients, inSecond);
  if (torn.length > 0)
    throw new DesignError(
      `${torn.length === 1 ? 'One patient stands' : `${torn.length} patients stand`} in ${name} and in the first file (${firstOf(torn)}): what is learned from one row would be checked on another of the same patient. Take them out of one of the files; where each file numbers its patients anew, set the identifier aside in Records first.`,
    );
  return sides;
}
