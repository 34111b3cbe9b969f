import { isCommonMissing, readDay, readNumber, readYesNo } from './cell.ts';

/** Beyond this many different values, no more are counted one by one. */
export const distinctLimit = 300;

/**
 * What one pass over the cells of a column shows, small enough to keep for a file of any length:
 * enough to propose a kind, and to say what each other kind would make of it.
 */
export interface ColumnTally {
  name: string;
  rows: number;
  /** Empty cells and the common spellings of "not known". */
  empty: number;
  numbers: number;
  whole: number;
  days: number;
  yesNo: number;
  least: number | null;
  most: number | null;
  /** Values in order of first appearance with their counts; at most `distinctLimit`. */
  distinct: [value: string, count: number][];
  /** True when there were more different values than `distinct` holds. */
  manyDistinct: boolean;
}

/** Counts the cells of one column; feed it each cell, in any order, then take the `result`. */
export class ColumnCounter {
  private readonly counts = new Map<string, number>();
  private readonly tally: ColumnTally;

  constructor(name: string) {
    this.tally = {
      name,
      rows: 0,
      empty: 0,
      numbers: 0,
      whole: 0,
      days: 0,
      yesNo: 0,
      least: null,
      most: null,
      distinct: [],
      manyDistinct: false,
    };
  }

  add(rawCell: string): void {
    const tally = this.tally;
    const cell = rawCell.trim();
    tally.rows++;
    if (isCommonMissing(cell)) {
      tally.empty++;
      return;
    }
    const number = readNumber(cell);
    if (!Number.isNaN(number)) {
      tally.numbers++;
      if (Number.isInteger(number)) tally.whole++;
      if (tally.least === null || number < tally.least) tally.least = number;
      if (tally.most === null || number > tally.most) tally.most = number;
    } else if (!Number.isNaN(readDay(cell))) tally.days++;
    if (readYesNo(cell) !== undefined) tally.yesNo++;
    const seen = this.counts.get(cell);
    if (seen !== undefined) this.counts.set(cell, seen + 1);
    else if (this.counts.size < distinctLimit) this.counts.set(cell, 1);
    else tally.manyDistinct = true;
  }

  result(): ColumnTally {
    return { ...this.tally, distinct: [...this.counts] };
  }
}
