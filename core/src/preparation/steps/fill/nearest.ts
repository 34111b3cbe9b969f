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
  const { donors, columns, neighbours } = learned;
  const filled = given.map((values) => values.slice());
  const rows = given[0]?.length ?? 0;
  const own = new Float64Array(columns.length);
  for (let i = 0; i < rows; i++) {
    let hasGap = false;
    for (let j = 0; j < columns.length; j++) {
      own[j] = given[j][i];
      if (Number.isNaN(own[j])) hasGap = true;
    }
    if (!hasGap) continue;
    const near = donors
      .map((donor, place) => ({ donor, place, far: gower(own, donor, columns) }))
      .sort((a, b) => a.far - b.far || a.place - b.place);
    for (let j = 0; j < columns.length; j++)
      if (Number.isNaN(own[j])) filled[j][i] = lent(near, j, neighbours, columns[j].levels);
  }
  return filled;
}

/** Gower's distance; as far as can be where nothing is known of both. */
export function gower(
  a: ArrayLike<number>,
  b: (number | null)[],
  columns: Nearest['columns'],
): number {
  let [sum, known] = [0, 0];
  for (let j = 0; j < columns.length; j++) {
    const other = b[j];
    if (other === null || Number.isNaN(a[j])) continue;
    known++;
    const { range } = columns[j];
    if (range === undefined) sum += a[j] === other ? 0 : 1;
    else if (range > 0) sum += Math.abs(a[j] - other) / range;
  }
  return known > 0 ? sum / known : Infinity;
}

function lent(
  near: { donor: (number | null)[] }[],
  column: number,
  neighbours: number,
  levels: string[] | undefined,
): number {
  const values: number[] = [];
  for (const { donor } of near) {
    const value = donor[column];
    if (value !== null) values.push(value);
    if (values.length === neighbours) break;
  }
  if (values.length === 0) return NaN;
  if (!levels) return values.reduce((sum, value) => sum + value, 0) / values.length;
  const counts = levels.map((_, code) => values.filter((value) => value === code).length);
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
