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

/** What one cell can be read as. */
interface CellReadings {
  point: number;
  comma: number;
  hasComma: boolean;
  day: number;
  dayFirst: number;
  monthFirst: number;
  yesNo: boolean;
}

/** The tally of a column that has no cell yet. */
export function emptyTally(name: string): ColumnTally {
  const none = (): Readable => ({ cells: 0, least: null, most: null });
  return {
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

/** Counts so many cells of one value, trimmed. Each different value may be counted only once. */
export function countValue(tally: ColumnTally, value: string, cells: number): void {
  countCells(tally, value, cells);
  if (isCommonMissing(value)) return;
  if (tally.distinct.length < distinctLimit) tally.distinct.push([value, cells]);
  else tally.manyDistinct = true;
}

/** As `countValue`, of a value that is not listed among the different ones. */
export function countCells(tally: ColumnTally, value: string, cells: number): void {
  tally.rows += cells;
  if (isCommonMissing(value)) {
    tally.empty += cells;
    return;
  }
  const readings = readEveryWay(value);
  take(tally.points, readings.point, cells);
  take(tally.commas, readings.comma, cells);
  take(tally.days, readings.day, cells);
  take(tally.dayFirst, readings.dayFirst, cells);
  take(tally.monthFirst, readings.monthFirst, cells);
  if (Number.isInteger(readings.point)) tally.whole += cells;
  if (readings.hasComma) tally.withComma += cells;
  if (readings.yesNo) tally.yesNo += cells;
}

function readEveryWay(cell: string): CellReadings {
  const point = readNumber(cell);
  const hasComma = cell.includes(',');
  // A plain whole number is the same under both marks, and no date: most cells stop here.
  const plain = !Number.isNaN(point) && !hasComma && !cell.includes('.');
  const isDate = Number.isNaN(point) && cell.length >= 8;
  return {
    point,
    comma: plain ? point : readNumber(cell, 'decimal comma'),
    hasComma,
    day: isDate ? readDay(cell) : NaN,
    dayFirst: isDate ? readDay(cell, 'day first') : NaN,
    monthFirst: isDate ? readDay(cell, 'month first') : NaN,
    yesNo: readYesNo(cell) !== undefined,
  };
}

function take(readable: Readable, value: number, cells: number): void {
  if (Number.isNaN(value)) return;
  readable.cells += cells;
  if (readable.least === null || value < readable.least) readable.least = value;
  if (readable.most === null || value > readable.most) readable.most = value;
}
