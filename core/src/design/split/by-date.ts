import * as z from 'zod';
import { columnOf } from '../columns.ts';
import { DesignError } from '../design-error.ts';
import { sidesOfRows } from './sides-of-rows.ts';
import { side, type Split, type SplitContext } from './split.ts';

const choice = z.object({
  way: z.literal('by date'),
  /** Dates, or numbers such as years. */
  column: z.string(),
  /** The first day (or number) that is held out; null for the latest share of the patients. */
  from: z.number().nullable().default(null),
});
type Choice = z.infer<typeof choice>;

/**
 * Those who came last are held out: a model is used on patients who come after those it learned from.
 * Patients of one day stay together. A patient with several rows counts from the first; whoever has
 * no date is on neither side.
 */
export const byDate: Split<Choice> = {
  name: 'By date',
  about: 'Those who came last are held out, as those are whom a model will meet.',
  choice,
  byShare: ({ from }) => from === null,
  columns: ({ column }) => [column],
  allocate,
};

function allocate(context: SplitContext, { column: name, from }: Choice): Uint8Array {
  const { patients, strata, table, share, sealedShare } = context;
  const { column, label } = columnOf(table, name);
  if (column.type !== 'number')
    throw new DesignError(`${label} holds no dates or numbers: patients cannot be divided by it.`);
  const first = new Float64Array(patients.keys.length).fill(NaN);
  const known = new Uint8Array(patients.keys.length);
  for (let row = 0; row < patients.ofRow.length; row++) {
    const patient = patients.ofRow[row];
    const value = column.values[row];
    if (strata[row] >= 0) known[patient] = 1;
    if (!Number.isNaN(value) && !(first[patient] <= value)) first[patient] = value;
  }
  const days = first.filter((day, patient) => known[patient] && !Number.isNaN(day)).sort();
  if (days.length === 0) throw new DesignError(`No patient has a known ${label}.`);
  const sealedFrom =
    from === null && sealedShare > 0 ? cut(days, sealedShare, label) : Number.POSITIVE_INFINITY;
  const heldOutFrom = from ?? cut(days, share + sealedShare, label);
  const sideOf = new Uint8Array(patients.keys.length);
  for (let patient = 0; patient < sideOf.length; patient++) {
    const day = first[patient];
    if (Number.isNaN(day)) sideOf[patient] = side.unused;
    else if (day >= sealedFrom) sideOf[patient] = side.sealed;
    else if (day >= heldOutFrom) sideOf[patient] = side.heldOut;
  }
  return sidesOfRows(context, sideOf);
}

/** The day from which on the share of patients comes nearest to the one wanted, but not all of them. */
function cut(days: Float64Array, share: number, label: string): number {
  const wanted = days.length * (1 - share);
  let best: number | undefined;
  for (let i = 1; i < days.length; i++)
    if (days[i] > days[i - 1])
      if (best === undefined || Math.abs(i - wanted) < Math.abs(best - wanted)) best = i;
  if (best === undefined)
    throw new DesignError(
      `All patients have the same ${label}: there is no later one to hold out.`,
    );
  return days[best];
}
