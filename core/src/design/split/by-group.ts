import * as z from 'zod';
import { orderingNumbers } from '../../numeric/index.ts';
import { wordsOf } from '../columns.ts';
import { DesignError } from '../design-error.ts';
import { countByStratum } from '../strata.ts';
import { movingPatients, movings, settleGroups } from '../moving.ts';
import type { Patients } from '../patients.ts';
import { unitsOf, type Units } from '../units.ts';
import { sidesOfRows } from './sides-of-rows.ts';
import { side, type Split, type SplitContext } from './split.ts';

const choice = z.object({
  way: z.literal('by group'),
  column: z.string(),
  /** Of patients with rows in several groups; absent, groups that share a patient are one. */
  moving: z.enum(movings).optional(),
});
type Choice = z.infer<typeof choice>;

/** Groups that are drawn over again so often at most: 64 times as long as there are few of them. */
const mostDraws = 64;
const mostWork = 64_000;

/**
 * Whole groups by chance: every row of a hospital, a family, a matched set on one side. Of several
 * seeded draws it is the one whose held-out side comes nearest to its share in every outcome group,
 * because a few large groups can hardly be dealt evenly by one.
 */
export const byGroup: Split<Choice> = {
  name: 'By group',
  about: 'Whole groups by chance: nobody of a held-out hospital is learned from.',
  choice,
  byShare: () => true,
  columns: ({ column }) => [column],
  allocate,
};

function allocate(context: SplitContext, { column, moving }: Choice): Uint8Array {
  const { patients, strata, table, seed, share, sealedShare } = context;
  const asTheyAre = wordsOf(table, column);
  const words = moving ? settleGroups(patients, asTheyAre, moving) : asTheyAre;
  const units = unitsOf(patients, words);
  const counts = countByStratum(units, strata, units.ofRow.keys());
  const stay =
    moving === 'development'
      ? unitsOfPatients(units, patients, movingPatients(patients, asTheyAre))
      : [];
  const known = counts.flatMap((own, unit) => (own.size > 0 && !stay.includes(unit) ? [unit] : []));
  const needed = sealedShare > 0 ? 3 : 2;
  if (known.length < needed)
    throw tooFew(known.length, words, movingPatients(patients, words).length);
  const totals = sum(known.map((unit) => counts[unit]));
  const draws = Math.max(1, Math.min(mostDraws, Math.floor(mostWork / known.length)));
  let best: { sideOf: Uint8Array; miss: number } | undefined;
  for (let draw = 0; draw < draws; draw++) {
    const orderOf = orderingNumbers(seed, `held-out group ${draw}`);
    const order = known
      .map((unit) => ({ unit, at: orderOf(units.keys[unit]) }))
      .sort((a, b) => a.at - b.at || (units.keys[a.unit] < units.keys[b.unit] ? -1 : 1))
      .map(({ unit }) => unit);
    const sideOf = new Uint8Array(units.keys.length);
    let miss = take(order, counts, totals, share, sideOf, side.heldOut);
    if (sealedShare > 0) miss += take(order, counts, totals, sealedShare, sideOf, side.sealed);
    if (!best || miss < best.miss) best = { sideOf, miss };
  }
  return sidesOfRows({ patients: units, strata }, best!.sideOf);
}

/** The units of these patients, who stand alone. */
function unitsOfPatients(units: Units, { ofRow }: Patients, chosen: number[]): number[] {
  const wanted = new Set(chosen);
  const found = new Set<number>();
  ofRow.forEach((patient, row) => wanted.has(patient) && found.add(units.ofRow[row]));
  return [...found];
}

function tooFew(units: number, words: string[], moving: number): DesignError {
  const groups = new Set(words.filter((word) => word !== '')).size;
  const there = `There ${units === 1 ? 'is one group' : `are ${units} groups`} only`;
  return new DesignError(
    groups > units
      ? `${moving} ${moving === 1 ? 'patient has' : 'patients have'} rows in several groups, which ties ${groups} groups to ${units === 1 ? 'one' : units}: a patient may not be on two sides. Choose what is done with patients of several groups.`
      : `${there}: each side needs one of its own.`,
  );
}

/**
 * Takes groups in this order as long as that brings the side nearer to its share of patients, and
 * one at least; says how far each outcome group is from its share, summed, per patient.
 */
function take(
  order: number[],
  counts: Map<number, number>[],
  totals: Map<number, number>,
  share: number,
  sideOf: Uint8Array,
  to: number,
): number {
  const patients = size(totals);
  const wanted = share * patients;
  const taken: Map<number, number>[] = [];
  let have = 0;
  let left = order.filter((unit) => sideOf[unit] === side.development).length;
  for (const unit of order) {
    if (sideOf[unit] !== side.development) continue;
    const own = size(counts[unit]);
    const nearer = Math.abs(have + own - wanted) < Math.abs(have - wanted);
    // The last group is for learning.
    if (left > 1 && (nearer || (have === 0 && left === 2))) {
      sideOf[unit] = to;
      taken.push(counts[unit]);
      have += own;
      left--;
    }
  }
  const held = sum(taken);
  let miss = have === 0 ? 2 : 0;
  for (const [stratum, count] of totals)
    miss += Math.abs((held.get(stratum) ?? 0) - share * count) / count;
  return miss;
}

function sum(counts: Map<number, number>[]): Map<number, number> {
  const total = new Map<number, number>();
  for (const own of counts)
    for (const [stratum, count] of own) total.set(stratum, (total.get(stratum) ?? 0) + count);
  return total;
}

const size = (counts: Map<number, number>) =>
  [...counts.values()].reduce((total, count) => total + count, 0);
