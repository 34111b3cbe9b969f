import * as z from 'zod';
import { groupByStratum, strataWithin } from '../strata.ts';
import { largestRemainders } from './largest-remainders.ts';
import { sidesOfRows } from './sides-of-rows.ts';
import { side, type Split, type SplitContext } from './split.ts';

const choice = z.object({
  way: z.literal('by chance'),
  /** Columns that both sides are kept alike in, besides the outcome. */
  within: z.array(z.string()).max(2).optional(),
});
type Choice = z.infer<typeof choice>;

/**
 * A share of the patients by chance, stratified by outcome and the columns chosen. In each stratum
 * exactly round(share × patients) are held out, up to one patient so that the total is exact too
 * (largest remainder).
 */
export const byChance: Split<Choice> = {
  name: 'By chance',
  about: 'A share by chance, with the outcome alike on both sides.',
  choice,
  byShare: () => true,
  columns: ({ within = [] }) => within,
  allocate,
};

function allocate(context: SplitContext, { within = [] }: Choice): Uint8Array {
  const { patients, strata, table, seed, share, sealedShare } = context;
  const rows = patients.ofRow.keys();
  const cells = strataWithin(table, strata, within);
  const groups = groupByStratum(patients, cells, rows, seed, 'held-out');
  const total = groups.reduce((sum, group) => sum + group.length, 0);
  const wanted = (part: number) =>
    largestRemainders(
      groups.map((group) => group.length * part),
      Math.round(total * part),
    );
  const [heldOut, sealed] = [wanted(share), wanted(sealedShare)];
  const sideOf = new Uint8Array(patients.keys.length);
  groups.forEach((group, g) =>
    group.forEach((patient, place) => {
      if (place < heldOut[g]) sideOf[patient] = side.heldOut;
      else if (place < heldOut[g] + sealed[g]) sideOf[patient] = side.sealed;
    }),
  );
  return sidesOfRows(context, sideOf);
}
