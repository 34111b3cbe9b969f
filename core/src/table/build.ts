import { isCommonMissing, readDay, readNumber, readYesNo } from './cell.ts';
import type { Column } from './column.ts';
import { isCoded, type DictionaryEntry } from './dictionary.ts';
import { sortLevels, yesNoLevels } from './levels.ts';

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
  private numbers: number[] = [];
  private texts: (string | null)[] = [];
  private codes: number[] = [];
  private readonly levels = new Map<string, number>();
  private readonly missing: Set<string>;
  private readonly coded: boolean;
  /** Cells that could not be read in the declared kind; they are kept as not known. */
  unreadable = 0;

  constructor(private readonly entry: DictionaryEntry) {
    this.missing = new Set(entry.missingCodes);
    this.coded = isCoded(entry.kind);
    const first = entry.kind === 'yes/no' ? yesNoLevels : (entry.levels ?? []);
    for (const level of first) this.levels.set(level, this.levels.size);
  }

  add(rawCell: string): void {
    const cell = rawCell.trim();
    const absent = isCommonMissing(cell) || this.missing.has(cell);
    if (this.coded) this.codes.push(absent ? -1 : this.code(cell));
    else if (this.entry.kind === 'text') this.texts.push(absent ? null : cell);
    else this.numbers.push(absent ? NaN : this.number(cell));
  }

  /** The column, its levels in their declared order; new ones follow, sorted. */
  result(): Column {
    if (this.entry.kind === 'text') return { type: 'text', values: this.texts };
    if (!this.coded) return { type: 'number', values: Float64Array.from(this.numbers) };
    return this.codedResult();
  }

  private codedResult(): Column {
    const declared = this.entry.kind === 'yes/no' ? yesNoLevels : (this.entry.levels ?? []);
    const found = [...this.levels.keys()];
    const levels = [...declared, ...sortLevels(found.slice(declared.length))];
    const place = new Map(levels.map((level, index) => [level, index]));
    const order = found.map((level) => place.get(level)!);
    return {
      type: 'coded',
      codes: Int32Array.from(this.codes, (code) => (code < 0 ? -1 : order[code])),
      levels,
    };
  }

  private number(cell: string): number {
    const value = this.entry.kind === 'date' ? readDay(cell) : readNumber(cell);
    if (Number.isNaN(value)) this.unreadable++;
    return value;
  }

  private code(cell: string): number {
    if (this.entry.kind === 'yes/no') {
      const answer = readYesNo(cell);
      if (answer === undefined) this.unreadable++;
      return answer === undefined ? -1 : Number(answer);
    }
    const known = this.levels.get(cell);
    if (known !== undefined) return known;
    if (this.levels.size >= levelLimit) throw new TooManyLevels(this.entry.name);
    this.levels.set(cell, this.levels.size);
    return this.levels.size - 1;
  }
}
