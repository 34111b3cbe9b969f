import * as z from 'zod';
import type { Patients } from '../patients.ts';
import { groupByStratum } from '../strata.ts';
import { side, type Split } from './split.ts';

const choice = z.object({
  way: z.literal('by chance'),
  /** Of the patients, to hold out: 0 < share < 1. */
  share: z.number().positive().lt(1),
});
type Choice = z.infer<typeof choice>;

/**
 * A share of the patients by chance, stratified by outcome. In each stratum exactly
 * round(share × patients) are held out, up to one patient so that the total is exact too
 * (largest remainder).
 */
export const byChance: Split<Choice> = { name: 'By chance', choice, allocate };

function allocate(
  patients: Patients,
  strata: ArrayLike<number>,
  { share }: Choice,
  seed: number,
): Uint8Array {
  const { ofRow } = patients;
  const groups = groupByStratum(patients, strata, ofRow.keys(), seed, 'held-out');
  const wanted = largestRemainders(
    groups.map((group) => group.length * share),
    Math.round(groups.reduce((sum, group) => sum + group.length, 0) * share),
  );
  const sideOf = new Uint8Array(patients.keys.length);
  groups.forEach((group, g) =>
    group.forEach((patient, place) => {
      sideOf[patient] = place < wanted[g] ? side.heldOut : side.development;
    }),
  );
  const sides = new Uint8Array(ofRow.length);
  for (let row = 0; row < ofRow.length; row++)
    sides[row] = strata[row] < 0 ? side.unused : sideOf[ofRow[row]];
  return sides;
}

/** Whole numbers near `shares` that sum to `total`. */
function largestRemainders(shares: number[], total: number): number[] {
  const whole = shares.map(Math.floor);
  const order = shares
    .map((share, i) => ({ i, rest: share - Math.floor(share) }))
    .sort((a, b) => b.rest - a.rest || a.i - b.i);
  let left = total - whole.reduce((sum, count) => sum + count, 0);
  for (const { i } of order) {
    if (left <= 0) break;
    whole[i]++;
    left--;
  }
  return whole;
}
