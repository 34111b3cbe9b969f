import * as z from 'zod';
import { orderingNumbers } from '../../numeric/index.ts';
import { wordsOf } from '../columns.ts';
import { DesignError } from '../design-error.ts';
import { countByStratum } from '../strata.ts';
import { movingPatients, settleGroups } from '../moving.ts';
import { unitsOf } from '../units.ts';
import type { Dealt, Folds, FoldsContext } from './folds.ts';

const choice = z.object({
  way: z.literal('by group'),
  column: z.string(),
  count: z.number().int().min(2).max(50),
  /** Of patients with rows in several groups; absent, groups that share a patient are one. */
  moving: z.enum(['most frequent', 'first']).optional(),
});
type Choice = z.infer<typeof choice>;

/**
 * Whole groups, dealt the largest first to where they are missing most: to the fold that has, over
 * the outcome groups, least of its share. Groups of one size go by chance.
 */
export const byGroup: Folds<Choice> = {
  name: 'By group',
  about: 'Whole groups: no fold is predicted by a model that learned from the same hospital.',
  choice,
  columns: ({ column }) => [column],
  allocate,
};

function allocate(context: FoldsContext, { column, count, moving }: Choice): Dealt {
  const { patients, strata, table, rows, seed } = context;
  const asTheyAre = wordsOf(table, column);
  const words = moving ? settleGroups(patients, asTheyAre, moving) : asTheyAre;
  const units = unitsOf(patients, words);
  const counts = countByStratum(units, strata, rows);
  const orderOf = orderingNumbers(seed, 'fold group');
  const order = counts
    .flatMap((own, unit) => {
      const size = [...own.values()].reduce((sum, one) => sum + one, 0);
      return size > 0 ? [{ unit, size, at: orderOf(units.keys[unit]) }] : [];
    })
    .sort((a, b) => b.size - a.size || a.at - b.at);
  if (order.length < count)
    throw new DesignError(
      `The development patients are of ${order.length === 1 ? 'one group' : `${order.length} groups`}: that is not enough for ${count} folds.${tied(movingPatients(patients, words).length)}`,
    );
  const totals = new Map<number, number>();
  for (const { unit } of order)
    for (const [stratum, n] of counts[unit]) totals.set(stratum, (totals.get(stratum) ?? 0) + n);
  const foldOf = new Uint8Array(units.keys.length);
  const filled = Array.from({ length: count }, () => new Map<number, number>());
  for (const { unit } of order) {
    const loads = filled.map((own) => loadWith(own, counts[unit], totals));
    const to = loads.indexOf(Math.min(...loads));
    foldOf[unit] = to;
    for (const [stratum, n] of counts[unit])
      filled[to].set(stratum, (filled[to].get(stratum) ?? 0) + n);
  }
  return { folds: Uint8Array.from(rows, (row) => foldOf[units.ofRow[row]]) };
}

/** How full a fold would be with a group more: its shares of the outcome groups, squared and summed, less those it has. */
function loadWith(
  own: Map<number, number>,
  more: Map<number, number>,
  totals: Map<number, number>,
): number {
  let load = 0;
  for (const [stratum, n] of more) {
    const [has, total] = [own.get(stratum) ?? 0, totals.get(stratum)!];
    load += ((has + n) / total) ** 2 - (has / total) ** 2;
  }
  return load;
}

/** What to do where patients of several groups are why groups are few. */
const tied = (moving: number) =>
  moving === 0
    ? ''
    : ` ${moving} ${moving === 1 ? 'patient has' : 'patients have'} rows in several groups, which ties these to one: choose what is done with them.`;
