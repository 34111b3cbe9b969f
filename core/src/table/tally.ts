import { isCommonMissing, readDay, readNumber, readYesNo } from './cell.ts';

/** Beyond this many different values, no more are counted one by one. */
export const distinctLimit = 300;

/** How many cells a way of reading takes, and the ends of what it gives. */
export interface Readable {
  cells: number;
  least: number | null;
  most: number | null;
}

/**
 * What one pass over the cells of a column shows, small enough to keep for a file of any length:
 * enough to propose a kind, and to say what each other kind would make of it.
 */
export interface ColumnTally {
  name: string;
  rows: number;
  /** Empty cells and the common spellings of "not known". */
  empty: number;
  /** Cells that are numbers with a decimal point, and with a decimal comma. */
  points: Readable;
  commas: Readable;
  /** Cells in which a comma stands. */
  withComma: number;
  /** Numbers with a decimal point that are whole. */
  whole: number;
  /** Cells that are dates year first, and those that are so read day first and month first. */
  days: Readable;
  dayFirst: Readable;
  monthFirst: Readable;
  yesNo: number;
  /** Values in order of first appearance with their counts; at most `distinctLimit`. */
  distinct: [value: string, count: number][];
  /** True when there were more different values than `distinct` holds. */
  manyDistinct: boolean;
}

/** What one cell can be read as; worked out once for each different value. */
interface CellReadings {
  count: number;
  missing: boolean;
  point: number;
  comma: number;
  hasComma: boolean;
  day: number;
  dayFirst: number;
  monthFirst: number;
  yesNo: boolean;
}

/** Counts the cells of one column; feed it each cell, in any order, then take the `result`. */
export class ColumnCounter {
  private readonly seen = new Map<string, CellReadings>();
  private readonly tally: ColumnTally;

  constructor(name: string) {
    const none = (): Readable => ({ cells: 0, least: null, most: null });
    this.tally = {
      name,
      rows: 0,
      empty: 0,
      points: none(),
      commas: none(),
      withComma: 0,
      whole: 0,
      days: none(),
      dayFirst: none(),
      monthFirst: none(),
      yesNo: 0,
      distinct: [],
      manyDistinct: false,
    };
  }

  add(rawCell: string): void {
    const cell = rawCell.trim();
    const known = this.seen.get(cell);
    const readings = known ?? readEveryWay(cell);
    this.count(readings);
    if (readings.missing) return;
    if (known) known.count++;
    else if (this.seen.size < distinctLimit) this.seen.set(cell, readings);
    else this.tally.manyDistinct = true;
  }

  result(): ColumnTally {
    return {
      ...this.tally,
      distinct: [...this.seen].map(([value, { count }]) => [value, count]),
    };
  }

  private count(readings: CellReadings): void {
    const tally = this.tally;
    tally.rows++;
    if (readings.missing) {
      tally.empty++;
      return;
    }
    take(tally.points, readings.point);
    take(tally.commas, readings.comma);
    take(tally.days, readings.day);
    take(tally.dayFirst, readings.dayFirst);
    take(tally.monthFirst, readings.monthFirst);
    if (Number.isInteger(readings.point)) tally.whole++;
    if (readings.hasComma) tally.withComma++;
    if (readings.yesNo) tally.yesNo++;
  }
}

function readEveryWay(cell: string): CellReadings {
  const point = readNumber(cell);
  const hasComma = cell.includes(',');
  // A plain whole number is the same under both marks, and no date: most cells stop here.
  const plain = !Number.isNaN(point) && !hasComma && !cell.includes('.');
  const isDate = Number.isNaN(point) && cell.length >= 8;
  return {
    count: 1,
    missing: isCommonMissing(cell),
    point,
    comma: plain ? point : readNumber(cell, 'decimal comma'),
    hasComma,
    day: isDate ? readDay(cell) : NaN,
    dayFirst: isDate ? readDay(cell, 'day first') : NaN,
    monthFirst: isDate ? readDay(cell, 'month first') : NaN,
    yesNo: readYesNo(cell) !== undefined,
  };
}

function take(readable: Readable, value: number): void {
  if (Number.isNaN(value)) return;
  readable.cells++;
  if (readable.least === null || value < readable.least) readable.least = value;
  if (readable.most === null || value > readable.most) readable.most = value;
}
