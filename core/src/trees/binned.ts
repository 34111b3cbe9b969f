import { gradesOf } from '../numeric/index.ts';
import type { Inputs } from '../inputs/index.ts';

/** Up to so many patients every different value is a bin of its own, as it is where a column has few. */
const exactUpTo = 2000;
const mostBins = 255;
/** Patients that the ends of bins are found from, where there are many more. */
const lookedAt = 16_384;

/** What the bins of one input are. */
export interface BinnedColumn {
  /** Bins of what is known: ranges of a number in ascending order, or its levels. One more holds who lacks it. */
  bins: number;
  /** Of a number, least and greatest value in each bin; absent of levels. */
  least?: Float64Array;
  greatest?: Float64Array;
}

export interface Binned {
  rowCount: number;
  columns: BinnedColumn[];
  /** Where the bins of each column begin if all stand in one row; behind the last, how many there are. */
  offsets: Int32Array;
  /** Patient by patient, the bin of each input in that one row: whoever is read brings all inputs along. */
  cells: Uint16Array | Int32Array;
}

/** The bin of each patient, input by input; see `binInputs`. */
export interface BinnedCodes {
  columns: BinnedColumn[];
  codes: Uint16Array[];
}

/**
 * Inputs as bins: each different value by itself where they are few, else up to 255 ranges that hold
 * about equally many patients. Equal values are never parted. Levels that have an order are read as the
 * numbers of their places, so that they are parted in it. The same inputs give the same bins, which
 * nobody may change.
 */
export const binCodes = (inputs: Inputs): BinnedCodes => once(codesOf, inputs, codesKept);

function codesOf({ columns, levels, ordered }: Inputs): BinnedCodes {
  const coded = columns.map((values, j) => {
    const own = levels?.[j];
    const asSets = own && ordered?.[j] !== true;
    return asSets ? codeLevels(values, own.length) : codeNumbers(values);
  });
  return { columns: coded.map(({ about }) => about), codes: coded.map(({ codes }) => codes) };
}

/** The same, patient by patient. */
export const binInputs = (inputs: Inputs): Binned => once(cellsOf, inputs, cellsKept);

// Fits on the same inputs, as a search makes them, share their bins.
const codesKept = new WeakMap<Inputs, BinnedCodes>();
const cellsKept = new WeakMap<Inputs, Binned>();

function once<Made>(make: (inputs: Inputs) => Made, inputs: Inputs, kept: WeakMap<Inputs, Made>) {
  let made = kept.get(inputs);
  if (!made) kept.set(inputs, (made = make(inputs)));
  return made;
}

function cellsOf(inputs: Inputs): Binned {
  const { rowCount } = inputs;
  const { columns, codes } = codesOf(inputs);
  const width = columns.length;
  const offsets = new Int32Array(width + 1);
  columns.forEach(({ bins }, j) => (offsets[j + 1] = offsets[j] + bins + 1));
  const size = rowCount * width;
  const cells = offsets[width] <= 65_536 ? new Uint16Array(size) : new Int32Array(size);
  for (let j = 0; j < width; j++)
    for (let row = 0, at = j; row < rowCount; row++, at += width)
      cells[at] = offsets[j] + codes[j][row];
  return { rowCount, columns, offsets, cells };
}

interface Coded {
  about: BinnedColumn;
  codes: Uint16Array;
}

function codeLevels(values: Float64Array, levels: number): Coded {
  const codes = new Uint16Array(values.length);
  for (let i = 0; i < codes.length; i++) codes[i] = Number.isNaN(values[i]) ? levels : values[i];
  return { about: { bins: levels }, codes };
}

function codeNumbers(values: Float64Array): Coded {
  if (values.length > 2 * lookedAt) {
    const some = someOf(values);
    const grades = gradesOf(some);
    // Of few different values all are looked at: each is a bin then.
    if (grades.values.length > some.length / 8) {
      const coded = byEnds(values, endsOf(grades.values, grades.counts));
      if (coded) return coded;
    }
  }
  const { values: different, codes: grades, counts } = gradesOf(values);
  const exact = different.length <= mostBins || values.length <= exactUpTo;
  const ends = exact ? different : endsOf(different, counts);
  const binOf = new Uint16Array(different.length);
  for (let g = 0, bin = -1; g < binOf.length; g++) {
    if (different[g] === ends[bin + 1]) bin++;
    binOf[g] = bin;
  }
  const bins = ends.length;
  const [least, greatest] = [ends, new Float64Array(bins)];
  for (let g = 0; g < binOf.length; g++) greatest[binOf[g]] = different[g];
  const codes = new Uint16Array(values.length);
  for (let i = 0; i < codes.length; i++) codes[i] = grades[i] < 0 ? bins : binOf[grades[i]];
  return { about: { bins, least, greatest }, codes };
}

/** Least values of bins that hold about equally many patients; a common value fills one alone. */
function endsOf(different: Float64Array, counts: ArrayLike<number>): Float64Array {
  let left = 0;
  for (let g = 0; g < counts.length; g++) left += counts[g];
  const ends = [different[0]];
  let held = 0;
  for (let g = 0; g < counts.length; g++) {
    const wanted = left / (mostBins + 1 - ends.length);
    if (held > 0 && ends.length < mostBins && held + counts[g] / 2 > wanted) {
      left -= held;
      ends.push(different[g]);
      held = 0;
    }
    held += counts[g];
  }
  return Float64Array.from(ends);
}

/**
 * Some of the values, chosen by their own digits, so that the order of patients changes nothing and
 * equal values are in or out together.
 */
function someOf(values: Float64Array): Float64Array {
  const one = Math.floor(2 ** 32 / Math.ceil(values.length / lookedAt));
  const some = new Float64Array(values.length);
  const double = new Float64Array(1);
  const words = new Uint32Array(double.buffer);
  let count = 0;
  for (let i = 0; i < values.length; i++) {
    if (Number.isNaN(values[i])) continue;
    double[0] = values[i] + 0;
    const mixed = Math.imul(words[0] ^ Math.imul(words[1], 0x9e3779b1), 0x85ebca6b);
    if (Math.imul(mixed ^ (mixed >>> 15), 0xc2b2ae35) >>> 0 < one) some[count++] = values[i];
  }
  return some.slice(0, count);
}

/** Into bins with these least values; undefined where one would hold far more than the others. */
function byEnds(values: Float64Array, ends: Float64Array): Coded | undefined {
  const bins = ends.length;
  const codes = new Uint16Array(values.length);
  const counts = new Int32Array(bins);
  const least = new Float64Array(bins).fill(Infinity);
  const greatest = new Float64Array(bins).fill(-Infinity);
  const { at, firsts } = gridOf(ends);
  for (let i = 0; i < codes.length; i++) {
    const value = values[i];
    if (Number.isNaN(value)) {
      codes[i] = bins;
      continue;
    }
    const cell = at(value);
    let low = firsts[cell];
    let high = firsts[cell + 1] + 1;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (ends[middle] <= value) low = middle;
      else high = middle;
    }
    codes[i] = low;
    counts[low]++;
    if (value < least[low]) least[low] = value;
    if (value > greatest[low]) greatest[low] = value;
  }
  const most = (4 * values.length) / bins;
  return counts.some((count) => count > most)
    ? undefined
    : { about: { bins, least, greatest }, codes };
}

/** Equal cells over all ends, so that an end is sought among the few of its cell. */
const gridCells = 2048;

/**
 * @returns the cell of a value, which rises with it; and for each cell, and one more, the last end that
 *   stands in front of it, or the first of all
 */
function gridOf(ends: Float64Array): { at: (value: number) => number; firsts: Int32Array } {
  const [first, last] = [ends[0], ends[ends.length - 1]];
  const scale = (gridCells - 1) / (last - first);
  const isFinite = scale > 0 && scale < Infinity;
  const at = (value: number) =>
    isFinite ? Math.max(0, Math.min(gridCells - 1, Math.floor((value - first) * scale))) : 0;
  const firsts = new Int32Array(gridCells + 1);
  let end = 0;
  for (let cell = 0; cell <= gridCells; cell++) {
    while (end + 1 < ends.length && at(ends[end + 1]) < cell) end++;
    firsts[cell] = end;
  }
  return { at, firsts };
}
