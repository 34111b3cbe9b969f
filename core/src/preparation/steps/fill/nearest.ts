import * as z from 'zod';
import { lengthOf, type WorkingColumn } from '../../working.ts';

export const nearestSchema = z.object({
  neighbours: z.number(),
  columns: z.array(
    z.object({
      column: z.string(),
      /** Of a number, greatest less least; of a coded column its levels. */
      range: z.number().optional(),
      levels: z.array(z.string()).optional(),
    }),
  ),
  /** Patients whose values are lent: a value or a place among the levels a column, null for a gap. */
  donors: z.array(z.array(z.number().nullable())),
});
export type Nearest = z.infer<typeof nearestSchema>;

/** So many patients lend their values at most: what is learned goes with the model. */
export const mostDonors = 400;

/**
 * Patients to fill from, evenly taken out of those at hand, the ones with fewest gaps first. How far
 * two patients are apart is Gower's distance (1971, Biometrics 27:857-871): over the columns known of
 * both the mean of |difference| / range, for levels 0 or 1.
 */
export function learnNearest(columns: WorkingColumn[], neighbours: number): Nearest {
  const rows = columns.length > 0 ? lengthOf(columns[0]) : 0;
  const described = columns.map((column) =>
    column.type === 'coded'
      ? { column: column.source, levels: column.levels }
      : { column: column.source, range: rangeOf(column.values) },
  );
  const gaps = new Int32Array(rows);
  const valueAt = columns.map(reader);
  for (const at of valueAt) for (let i = 0; i < rows; i++) if (Number.isNaN(at(i))) gaps[i]++;
  const order = Array.from({ length: rows }, (_, i) => i).sort(
    (a, b) => gaps[a] - gaps[b] || a - b,
  );
  // Of the better half, evenly, so that no stretch of the file lends more than its share.
  const pool = order.slice(0, Math.max(mostDonors, Math.ceil(rows / 2)));
  const step = Math.max(1, pool.length / mostDonors);
  const chosen = Array.from(
    { length: Math.min(mostDonors, pool.length) },
    (_, k) => pool[Math.floor(k * step)],
  );
  const donors = chosen.map((i) => valueAt.map((at) => (Number.isNaN(at(i)) ? null : at(i))));
  return { neighbours, columns: described, donors };
}

/**
 * For each column, its values with the gaps filled from the nearest donors who know it: the mean of
 * numbers, the commonest level. NaN where no donor knows it.
 *
 * @param given columns as numbers or places among `levels`, in the order learned
 */
export function applyNearest(learned: Nearest, given: Float64Array[]): Float64Array[] {
  const { columns, neighbours } = learned;
  const donors = learned.donors.map((donor) => Float64Array.from(donor, (value) => value ?? NaN));
  const filled = given.map((values) => values.slice());
  const rows = given[0]?.length ?? 0;
  const own = new Float64Array(columns.length);
  const far = new Float64Array(donors.length);
  // A level is 0 or 1 apart: a width of 0 stands for that.
  const widths = columns.map(({ range }) => range ?? 0);
  const isLevels = columns.map(({ range }) => range === undefined);
  for (let i = 0; i < rows; i++) {
    let hasGap = false;
    for (let j = 0; j < columns.length; j++) {
      own[j] = given[j][i];
      if (Number.isNaN(own[j])) hasGap = true;
    }
    if (!hasGap) continue;
    for (let d = 0; d < donors.length; d++) far[d] = gower(own, donors[d], widths, isLevels);
    for (let j = 0; j < columns.length; j++)
      if (Number.isNaN(own[j])) filled[j][i] = lent(donors, far, j, neighbours, columns[j].levels);
  }
  return filled;
}

/** Gower's distance; as far as can be where nothing is known of both. */
function gower(a: Float64Array, b: Float64Array, widths: number[], isLevels: boolean[]): number {
  let [sum, known] = [0, 0];
  for (let j = 0; j < a.length; j++) {
    const difference = a[j] - b[j];
    if (Number.isNaN(difference)) continue;
    known++;
    if (isLevels[j]) sum += difference === 0 ? 0 : 1;
    else if (widths[j] > 0) sum += Math.abs(difference) / widths[j];
  }
  return known > 0 ? sum / known : Infinity;
}

/** From the nearest who know it, of equally near ones the first: the mean, or the commonest level. */
function lent(
  donors: Float64Array[],
  far: Float64Array,
  column: number,
  neighbours: number,
  levels: string[] | undefined,
): number {
  const near: number[] = [];
  for (let d = 0; d < donors.length; d++) {
    if (Number.isNaN(donors[d][column])) continue;
    if (near.length === neighbours && far[d] >= far[near[near.length - 1]]) continue;
    let place = near.length;
    while (place > 0 && far[near[place - 1]] > far[d]) place--;
    near.splice(place, 0, d);
    if (near.length > neighbours) near.pop();
  }
  if (near.length === 0) return NaN;
  if (!levels) return near.reduce((sum, d) => sum + donors[d][column], 0) / near.length;
  const counts = levels.map((_, code) => near.filter((d) => donors[d][column] === code).length);
  return counts.indexOf(Math.max(...counts));
}

/** A column as numbers: its values, or places among its levels. */
export function reader(column: WorkingColumn): (row: number) => number {
  if (column.type === 'number') return (row) => column.values[row];
  return (row) => (column.codes[row] < 0 ? NaN : column.codes[row]);
}

function rangeOf(values: Float64Array): number {
  let [least, most] = [Infinity, -Infinity];
  for (const value of values) {
    if (value < least) least = value;
    if (value > most) most = value;
  }
  return most > least ? most - least : 0;
}
