import { ascendingOrder } from './ascending-order.ts';

/**
 * Numbers as places on the ladder of their different values. Once a column is graded, ranks,
 * quantiles and areas need no sorting any more, only counting.
 */
export interface Grades {
  /** The different values, ascending. */
  values: Float64Array;
  /** Place in `values` of each row; -1 where not known (NaN). */
  codes: Int32Array;
  /** How many rows have each value. */
  counts: Float64Array;
  /** The rows that are not known. */
  unknown: Int32Array;
}

export function gradesOf(numbers: ArrayLike<number>): Grades {
  const { values, codes } = gradedByTable(numbers) ?? gradedByOrder(numbers);
  return gradesFrom(values, codes);
}

/** Grades of which each row's place is known already. */
export function gradesFrom(values: Float64Array, codes: Int32Array): Grades {
  const counts = new Float64Array(values.length);
  const unknown = new Int32Array(codes.length);
  let gaps = 0;
  for (let row = 0; row < codes.length; row++)
    if (codes[row] < 0) unknown[gaps++] = row;
    else counts[codes[row]]++;
  return { values, codes, counts, unknown: unknown.slice(0, gaps) };
}

type Placed = Pick<Grades, 'values' | 'codes'>;

/** Different values up to which they are looked up in a table, which is ten times as fast as sorting. */
const tableLimit = 8192;
const tableBits = 15;

/** Finds each row's value in a table with open addresses; undefined when there are too many. */
function gradedByTable(numbers: ArrayLike<number>): Placed | undefined {
  const slots = new Int32Array(1 << tableBits).fill(-1);
  const mask = slots.length - 1;
  const found = new Float64Array(tableLimit);
  const codes = new Int32Array(numbers.length);
  const double = new Float64Array(1);
  const words = new Uint32Array(double.buffer);
  let count = 0;
  for (let row = 0; row < numbers.length; row++) {
    const number = numbers[row];
    if (Number.isNaN(number)) {
      codes[row] = -1;
      continue;
    }
    // Adding zero makes -0 the same as 0.
    double[0] = number + 0;
    let slot =
      Math.imul(words[0] ^ Math.imul(words[1], 0x9e3779b1), 0x85ebca6b) >>> (32 - tableBits);
    let code = slots[slot];
    while (code >= 0 && found[code] !== number) {
      slot = (slot + 1) & mask;
      code = slots[slot];
    }
    if (code < 0) {
      if (count === tableLimit) return undefined;
      found[count] = number + 0;
      code = slots[slot] = count++;
    }
    codes[row] = code;
  }
  const values = found.slice(0, count).sort();
  const place = new Map(Array.from(values, (value, i) => [value, i]));
  const inOrder = Int32Array.from(found.subarray(0, count), (value) => place.get(value)!);
  for (let row = 0; row < codes.length; row++)
    if (codes[row] >= 0) codes[row] = inOrder[codes[row]];
  return { values, codes };
}

function gradedByOrder(numbers: ArrayLike<number>): Placed {
  const order = ascendingOrder(numbers);
  const codes = new Int32Array(numbers.length).fill(-1);
  const values = new Float64Array(order.length);
  let count = 0;
  for (let i = 0; i < order.length; i++) {
    const row = order[i];
    const value = numbers[row];
    if (count === 0 || values[count - 1] !== value) values[count++] = value + 0;
    codes[row] = count - 1;
  }
  return { values: values.slice(0, count), codes };
}

/** How many rows have each value, of the rows that another column knows too. */
export function sharedCounts({ codes, counts }: Grades, other: Grades): Float64Array {
  const shared = counts.slice();
  const { unknown } = other;
  for (let i = 0; i < unknown.length; i++) {
    const code = codes[unknown[i]];
    if (code >= 0) shared[code]--;
  }
  return shared;
}

/** The values of all rows that are known, ascending. */
export function sortedGrades({ values, codes, counts, unknown }: Grades): Float64Array {
  const sorted = new Float64Array(codes.length - unknown.length);
  let place = 0;
  for (let k = 0; k < counts.length; k++) {
    sorted.fill(values[k], place, place + counts[k]);
    place += counts[k];
  }
  return sorted;
}
