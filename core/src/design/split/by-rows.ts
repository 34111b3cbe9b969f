import * as z from 'zod';
import { refuseTornPatients } from './sides-of-rows.ts';
import { side, type Split, type SplitContext } from './split.ts';

const choice = z.object({
  way: z.literal('by rows'),
  /** First and last row of the file that are held out, the row under the head being 1. */
  from: z.number().int().min(1),
  to: z.number().int().min(1),
});
type Choice = z.infer<typeof choice>;

/** A range of rows of the file, for a file that was put together in parts. */
export const byRows: Split<Choice> = {
  name: 'By rows of the file',
  about: 'A range of rows of the file is held out.',
  choice,
  byShare: () => false,
  columns: () => [],
  allocate,
};

function allocate({ patients, strata, fileRows }: SplitContext, { from, to }: Choice): Uint8Array {
  const sides = Uint8Array.from({ length: strata.length }, (_, row) => {
    if (strata[row] < 0) return side.unused;
    const place = fileRows?.[row] ?? row + 1;
    return place >= from && place <= to ? side.heldOut : side.development;
  });
  refuseTornPatients(patients, sides, `The range of rows ${from} to ${to}`);
  return sides;
}
