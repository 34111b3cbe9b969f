import { side } from './split/index.ts';

/** Where the patients of one part of a division stand, along the file or along a date. */
export interface Lane {
  side: 'development' | 'heldOut' | 'sealed';
  /** Of development patients, the fold from 0. */
  fold?: number;
  /** Patients and cases of each stretch, from the first to the last. */
  patients: number[];
  events: number[];
}

export interface Spread {
  lanes: Lane[];
  /** Where the stretches begin and end: rows from 1, or the values gone by. */
  from: number;
  to: number;
}

/**
 * Who is where: patients of every part, counted in stretches of equal length.
 *
 * @param parts.events 1 where a row is a case
 * @param along what the stretches go by; the rows of the cohort where absent. NaN is not counted.
 */
export function spreadOf(
  parts: { sides: Uint8Array; folds: Uint8Array; events: ArrayLike<number> },
  along: Float64Array | undefined,
  stretches = 80,
): Spread {
  const { sides, folds, events } = parts;
  const at = (row: number) => along?.[row] ?? row + 1;
  let [from, to] = [Infinity, -Infinity];
  for (let row = 0; row < sides.length; row++) {
    if (sides[row] === side.unused) continue;
    from = Math.min(from, Number.isNaN(at(row)) ? from : at(row));
    to = Math.max(to, Number.isNaN(at(row)) ? to : at(row));
  }
  const lanes = new Map<number, Lane>();
  let next = 0;
  for (let row = 0; row < sides.length; row++) {
    const fold = sides[row] === side.development ? folds[next++] : undefined;
    const name = names[sides[row]];
    if (!name || Number.isNaN(at(row))) continue;
    const key = 256 * sides[row] + (fold ?? 0);
    let lane = lanes.get(key);
    if (!lane) {
      const zeros = () => new Array<number>(stretches).fill(0);
      lane = {
        side: name,
        ...(fold !== undefined && { fold }),
        patients: zeros(),
        events: zeros(),
      };
      lanes.set(key, lane);
    }
    const share = to > from ? (at(row) - from) / (to - from) : 0;
    const place = Math.min(stretches - 1, Math.floor(share * stretches));
    lane.patients[place]++;
    if (events[row] === 1) lane.events[place]++;
  }
  const order = [...lanes.keys()].sort((a, b) => a - b);
  return { lanes: order.map((key) => lanes.get(key)!), from, to };
}

const names: Record<number, Lane['side'] | undefined> = {
  [side.development]: 'development',
  [side.heldOut]: 'heldOut',
  [side.sealed]: 'sealed',
};
