import { isCommonMissing, plainSpelling, readDay, readNumber } from './cell.ts';
import type { Column } from './column.ts';
import { isCoded, type DictionaryEntry } from './dictionary.ts';
import { levelOf, sortLevels, yesNoLevels } from './levels.ts';

/** More levels than this in one category are refused: it is text. */
export const levelLimit = 1000;

export class TooManyLevels extends Error {
  constructor(readonly column: string) {
    super(
      `${column} has more than ${levelLimit} different values. Make it text and set it aside, or a number.`,
    );
  }
}

/** Turns the cells of one column into a typed column, as its dictionary entry says. */
export class ColumnBuilder {
  private numbers: Float64Array;
  private codes: Int32Array;
  private readonly texts: (string | null)[] = [];
  private rows = 0;
  private readonly levels = new Map<string, number>();
  /** Codes of the cells met so far, so that each different cell is understood once. */
  private readonly cells = new Map<string, number>();
  /** How many of `levels` the entry declares. */
  private readonly declared: number;
  private readonly missing: Set<string>;
  /** Of a number column: the numbers that mean not known, however they are spelled. */
  private readonly missingNumbers: Set<number>;
  private readonly coded: boolean;

  /** @param expectedRows makes room for so many at once; more may come */
  constructor(
    private readonly entry: DictionaryEntry,
    expectedRows = 1024,
  ) {
    this.coded = isCoded(entry.kind);
    this.missing = new Set(entry.missingCodes);
    if (this.coded) for (const code of entry.missingCodes) this.missing.add(plainSpelling(code));
    this.missingNumbers = new Set(
      entry.kind === 'number'
        ? entry.missingCodes
            .flatMap((code) => [readNumber(code, entry.format), readNumber(code)])
            .filter((value) => !Number.isNaN(value))
        : [],
    );
    this.numbers = new Float64Array(this.coded || entry.kind === 'text' ? 0 : expectedRows);
    this.codes = new Int32Array(this.coded ? expectedRows : 0);
    const first = entry.kind === 'yes/no' ? yesNoLevels : (entry.levels ?? []);
    for (const level of first) this.levels.set(level, this.levels.size);
    this.declared = this.levels.size;
  }

  add(rawCell: string): void {
    const cell = rawCell.trim();
    const absent =
      isCommonMissing(cell) ||
      this.missing.has(cell) ||
      (this.coded && this.missing.size > 0 && this.missing.has(plainSpelling(cell)));
    const row = this.rows++;
    if (this.coded) {
      if (row === this.codes.length) this.codes = grown(this.codes, new Int32Array(2 * row + 1));
      this.codes[row] = absent ? -1 : this.code(cell);
    } else if (this.entry.kind === 'text') this.texts.push(absent ? null : cell);
    else {
      if (row === this.numbers.length)
        this.numbers = grown(this.numbers, new Float64Array(2 * row + 1));
      this.numbers[row] = absent ? NaN : this.number(cell);
    }
  }

  /** The column, its levels in their declared order; new ones follow, sorted. */
  result(): Column {
    if (this.entry.kind === 'text') return { type: 'text', values: this.texts };
    if (!this.coded) return { type: 'number', values: exactly(this.numbers, this.rows) };
    return this.codedResult();
  }

  private codedResult(): Column {
    const found = [...this.levels.keys()];
    const levels = [...found.slice(0, this.declared), ...this.newLevels(found)];
    const place = new Map(levels.map((level, index) => [level, index]));
    const order = found.map((level) => place.get(level)!);
    return {
      type: 'coded',
      codes: exactly(this.codes, this.rows).map((code) => (code < 0 ? -1 : order[code])),
      levels,
    };
  }

  /** The levels that were not declared, in the order of the cells that stand for them. */
  private newLevels(found: string[]): string[] {
    const fresh = new Set(found.slice(this.declared));
    const inOrder = sortLevels([...this.cells.keys()])
      .map((cell) => found[this.cells.get(cell)!])
      .filter((level) => fresh.has(level));
    return [...new Set([...inOrder, ...fresh])];
  }

  private number(cell: string): number {
    const { kind, format } = this.entry;
    if (kind === 'date') return readDay(cell, format);
    const value = readNumber(cell, format);
    return this.isBeyond(value) || this.missingNumbers.has(value) ? NaN : value;
  }

  private isBeyond(value: number): boolean {
    const { plausible } = this.entry;
    if (plausible?.beyond !== 'not known') return false;
    const { least, most } = plausible;
    return (least !== null && value < least) || (most !== null && value > most);
  }

  private code(cell: string): number {
    const known = this.cells.get(cell);
    if (known !== undefined) return known;
    const code = this.codeOfLevel(levelOf(cell, this.entry));
    if (this.cells.size < levelLimit) this.cells.set(cell, code);
    return code;
  }

  private codeOfLevel(level: string | undefined): number {
    if (level === undefined) return -1;
    const known = this.levels.get(level) ?? this.levels.get(plainSpelling(level));
    if (known !== undefined) return known;
    if (this.levels.size >= levelLimit) throw new TooManyLevels(this.entry.name);
    this.levels.set(level, this.levels.size);
    return this.levels.size - 1;
  }
}

/** The array itself where its room was foretold, which spares a copy of every column. */
function exactly<T extends Float64Array | Int32Array>(values: T, length: number): T {
  return values.length === length ? values : (values.slice(0, length) as T);
}

/** The larger array, begun with the smaller one's content. */
function grown<T extends Float64Array | Int32Array>(smaller: T, larger: T): T {
  larger.set(smaller);
  return larger;
}
