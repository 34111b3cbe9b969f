import { ColumnBuilder } from './build.ts';
import type { Column } from './column.ts';
import { isCoded, type DictionaryEntry } from './dictionary.ts';
import { countCells, countValue, emptyTally, type ColumnTally } from './tally.ts';

/** Different values beyond which the cells are kept as text: identifiers, finely measured numbers. */
const codedLimit = 8192;

/** Cells of text kept in one piece. */
const pieceRows = 4096;

/** Parts the cells of a piece; a piece in which it stands is kept as a list instead. */
const mark = '\u001f';

/**
 * The cells of one column of a file, kept so small that a million rows of twenty columns need some
 * forty megabytes: a code a row while there are few different values, text after that. One pass
 * over the file is then enough to say what the column holds and to read it under any entry.
 */
export class ColumnCells {
  /** Whether the cells are still there. */
  kept = true;
  private readonly codeOf = new Map<string, number>();
  /** The same for plain numbers, at the place that `placeOf` gives them; -1 where there is none. */
  private codeAt = new Int16Array(0);
  private readonly counts: number[] = [];
  /** Codes of the first rows: of all of them, unless there were too many different values. */
  private codes = new Uint16Array(1024);
  private coded = 0;
  private readonly pieces: (string | string[])[] = [];
  private piece: string[] = [];
  private pieceBytes = 0;
  /** What was counted of the values beyond those that have a code. */
  private readonly beyond: ColumnTally;

  constructor(private readonly name: string) {
    this.beyond = emptyTally(name);
  }

  /** Takes the cell of the next row. */
  add(rawCell: string): void {
    const place = placeOf(rawCell);
    if (place >= 0 && place < this.codeAt.length && this.codeAt[place] >= 0) {
      const code = this.codeAt[place];
      this.counts[code]++;
      if (this.kept) this.keep(rawCell, code);
      return;
    }
    const cell = rawCell.trim();
    let code = this.codeOf.get(cell);
    if (code !== undefined) this.counts[code]++;
    else if (this.counts.length < codedLimit) {
      code = this.counts.push(1) - 1;
      this.codeOf.set(ownCopy(cell), code);
      if (place >= 0) this.remember(place, code);
    } else countCells(this.beyond, cell, 1);
    if (this.kept) this.keep(cell, code);
  }

  /** What one pass over the cells shows. */
  tally(): ColumnTally {
    const tally = structuredClone(this.beyond);
    for (const [value, code] of this.codeOf) countValue(tally, value, this.counts[code]);
    return tally;
  }

  /** The typed column that the entry makes of the cells. Throws TooManyLevels; not after `forget`. */
  column(entry: DictionaryEntry): Column {
    if (!this.kept) throw new Error(`The cells of ${this.name} are not kept.`);
    const values = [...this.codeOf.keys()];
    const codes = this.codes.subarray(0, this.coded);
    if (this.pieces.length === 0 && this.piece.length === 0) return spread(values, codes, entry);
    const builder = new ColumnBuilder(entry, this.coded + this.textRows);
    for (const code of codes) builder.add(values[code]);
    for (const piece of [...this.pieces, this.piece])
      for (const cell of typeof piece === 'string' ? piece.split(mark) : piece) builder.add(cell);
    return builder.result();
  }

  /** Roughly how much memory the cells take. */
  get bytes(): number {
    return this.kept ? this.codes.byteLength + this.pieceBytes : 0;
  }

  /** Lets the cells go; the tally stays, and goes on. */
  forget(): void {
    this.kept = false;
    this.codes = new Uint16Array(0);
    this.pieces.length = 0;
    this.piece = [];
  }

  private remember(place: number, code: number): void {
    if (place >= this.codeAt.length) {
      const larger = new Int16Array(2 ** Math.ceil(Math.log2(place + 1))).fill(-1);
      larger.set(this.codeAt);
      this.codeAt = larger;
    }
    this.codeAt[place] = code;
  }

  private get textRows(): number {
    return this.pieces.length * pieceRows + this.piece.length;
  }

  private keep(cell: string, code: number | undefined): void {
    if (code !== undefined && this.textRows === 0) {
      if (this.coded === this.codes.length) {
        const larger = new Uint16Array(2 * this.coded);
        larger.set(this.codes);
        this.codes = larger;
      }
      this.codes[this.coded++] = code;
      return;
    }
    if (this.piece.push(cell) < pieceRows) return;
    const text = this.piece.join(mark);
    const plain = text.split(mark).length === pieceRows;
    this.pieces.push(plain ? text : this.piece.map(ownCopy));
    this.pieceBytes += text.length + (plain ? 0 : 40 * pieceRows);
    this.piece = [];
  }
}

/**
 * A place of its own for the text of every plain number under 100,000 with at most three decimals,
 * -1 for other text. Looking codes up there instead of by their text takes a tenth of the time,
 * and most cells of most files are such numbers.
 */
function placeOf(cell: string): number {
  const { length } = cell;
  if (length === 0 || length > 7) return -1;
  let digits = 0;
  let decimals = -1;
  for (let i = 0; i < length; i++) {
    const character = cell.charCodeAt(i);
    if (character === 46 && decimals < 0 && i > 0) decimals = 0;
    else if (character >= 48 && character <= 57) {
      digits = 10 * digits + character - 48;
      if (decimals >= 0) decimals++;
    } else return -1;
  }
  // Other spellings of the same number (007, 5.) are other texts.
  if (decimals === 0 || decimals > 3 || digits >= 100_000) return -1;
  const whole = decimals < 0 ? length : length - decimals - 1;
  if (whole > 1 && cell.charCodeAt(0) === 48) return -1;
  return 4 * digits + Math.max(decimals, 0);
}

/** The column of which each different value is read but once. */
function spread(values: string[], codes: Uint16Array, entry: DictionaryEntry): Column {
  const builder = new ColumnBuilder(entry, values.length);
  for (const value of values) builder.add(value);
  const once = builder.result();
  if (once.type === 'text')
    return { type: 'text', values: Array.from(codes, (code) => once.values[code]) };
  if (isCoded(entry.kind) && once.type === 'coded') {
    const all = new Int32Array(codes.length);
    for (let row = 0; row < codes.length; row++) all[row] = once.codes[codes[row]];
    return { type: 'coded', codes: all, levels: once.levels };
  }
  const all = new Float64Array(codes.length);
  if (once.type === 'number')
    for (let row = 0; row < codes.length; row++) all[row] = once.values[codes[row]];
  return { type: 'number', values: all };
}

/** A slice of text keeps the whole text alive; V8 makes one of thirteen characters or more. */
function ownCopy(text: string): string {
  return text.length < 13 ? text : (JSON.parse(JSON.stringify(text)) as string);
}
