import type { Alike } from './likeness.ts';
import { solve, type Solution } from './solve.ts';

/** A border between two sides, or a curve through a number. */
export interface Machine {
  /** Patients that it is made of, and what each adds by how alike it is. */
  supports: Int32Array;
  adds: Float64Array;
  offset: number;
  /** Of them, how many add as much as they may. */
  atMost: number;
  objective: number;
  steps: number;
  settled: boolean;
}

/**
 * Widest margin between two sides.
 *
 * @param sides of each of the patients: 1, or -1
 * @param most how much each may add
 * @returns undefined where only one side is there
 */
export function partSides(
  alike: Alike,
  patients: Int32Array,
  sides: Int8Array,
  most: Float64Array,
  progress?: (share: number) => void,
): Machine | undefined {
  if (!sides.includes(1) || !sides.includes(-1)) return undefined;
  const linear = new Float64Array(patients.length).fill(-1);
  const solution = solve({ alike, patients, sides, linear, most }, progress);
  return machineOf(patients, (i) => sides[i] * solution.values[i], most, solution);
}

/**
 * The flattest curve from which numbers are no farther than a tube, or at a cost (Drucker et al. 1997).
 *
 * @param wanted of each of the patients
 */
export function followNumber(
  alike: Alike,
  patients: Int32Array,
  wanted: Float64Array,
  most: Float64Array,
  tube: number,
  progress?: (share: number) => void,
): Machine {
  const count = patients.length;
  const twice = <T extends Int32Array | Float64Array>(to: T, from: T): T => {
    to.set(from);
    to.set(from, count);
    return to;
  };
  const solution = solve(
    {
      alike,
      patients: twice(new Int32Array(2 * count), patients),
      sides: new Int8Array(2 * count).fill(1, 0, count).fill(-1, count),
      linear: Float64Array.from({ length: 2 * count }, (_, k) =>
        k < count ? tube - wanted[k] : tube + wanted[k - count],
      ),
      most: twice(new Float64Array(2 * count), most),
    },
    progress,
  );
  const { values } = solution;
  return machineOf(patients, (i) => values[i] - values[count + i], most, solution);
}

function machineOf(
  patients: Int32Array,
  addOf: (i: number) => number,
  most: Float64Array,
  { offset, objective, steps, settled }: Solution,
): Machine {
  const found = Array.from(patients.keys()).filter((i) => addOf(i) !== 0);
  return {
    supports: Int32Array.from(found, (i) => patients[i]),
    adds: Float64Array.from(found, addOf),
    offset,
    atMost: found.filter((i) => Math.abs(addOf(i)) === most[i]).length,
    objective,
    steps,
    settled,
  };
}

/** What a machine says of these patients. */
export function decide(
  alike: Alike,
  { supports, adds, offset }: Machine,
  patients: Int32Array,
): Float64Array {
  const said = new Float64Array(patients.length).fill(offset);
  supports.forEach((support, k) => {
    const row = alike.row(support);
    for (let i = 0; i < said.length; i++) said[i] += adds[k] * row[patients[i]];
  });
  return said;
}
