import { gradesOf } from '../numeric/index.ts';
import type { Inputs } from '../preparation/index.ts';

/** Up to so many patients every different value is a bin of its own, as it is where a column has few. */
const exactUpTo = 2000;
const mostBins = 255;

/** One input as trees read it. */
export interface BinnedColumn {
  /** Bin of each patient; `bins` where it is not known. */
  codes: Uint16Array;
  /** Bins of what is known: ranges of a number in ascending order, or its levels. */
  bins: number;
  /** Of a number, least and greatest value in each bin; absent of levels. */
  least?: Float64Array;
  greatest?: Float64Array;
}

export interface Binned {
  rowCount: number;
  columns: BinnedColumn[];
  /** First place of each column where all bins stand in a row, and behind the last the number of all. */
  offsets: Int32Array;
}

/**
 * Inputs as bins: each different value by itself where they are few, else up to 255 ranges that hold
 * about equally many patients. Equal values are never parted.
 */
export function binInputs(inputs: Inputs): Binned {
  const columns = inputs.columns.map((values, j) => {
    const levels = inputs.levels?.[j];
    return levels ? binLevels(values, levels.length) : binNumbers(values);
  });
  const offsets = new Int32Array(columns.length + 1);
  columns.forEach(({ bins }, j) => (offsets[j + 1] = offsets[j] + bins + 1));
  return { rowCount: inputs.rowCount, columns, offsets };
}

function binLevels(values: Float64Array, levels: number): BinnedColumn {
  const codes = new Uint16Array(values.length);
  for (let i = 0; i < codes.length; i++) codes[i] = Number.isNaN(values[i]) ? levels : values[i];
  return { codes, bins: levels };
}

function binNumbers(values: Float64Array): BinnedColumn {
  const { values: different, codes: grades, counts } = gradesOf(values);
  const binOf = new Uint16Array(different.length);
  const exact = different.length <= mostBins || values.length <= exactUpTo;
  if (exact) for (let g = 0; g < binOf.length; g++) binOf[g] = g;
  else share(counts, binOf);
  const bins = binOf.length === 0 ? 0 : binOf[binOf.length - 1] + 1;
  const [least, greatest] = [new Float64Array(bins), new Float64Array(bins)];
  for (let g = binOf.length - 1; g >= 0; g--) least[binOf[g]] = different[g];
  for (let g = 0; g < binOf.length; g++) greatest[binOf[g]] = different[g];
  const codes = new Uint16Array(values.length);
  for (let i = 0; i < codes.length; i++) codes[i] = grades[i] < 0 ? bins : binOf[grades[i]];
  return { codes, bins, least, greatest };
}

/** Puts different values into bins of about equally many patients; a common value fills one alone. */
function share(counts: ArrayLike<number>, binOf: Uint16Array): void {
  let left = 0;
  for (let g = 0; g < counts.length; g++) left += counts[g];
  let bin = 0;
  let held = 0;
  for (let g = 0; g < counts.length; g++) {
    const wanted = left / (mostBins - bin);
    if (held > 0 && bin < mostBins - 1 && held + counts[g] / 2 > wanted) {
      left -= held;
      bin++;
      held = 0;
    }
    binOf[g] = bin;
    held += counts[g];
  }
}
