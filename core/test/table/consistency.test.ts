import { describe, expect, it } from 'vitest';
import { randomStream } from '../../src/numeric/index.ts';
import {
  cellFormats,
  ColumnCells,
  countMissing,
  isCoded,
  isMissing,
  kinds,
  proposeEntry,
  readEnds,
  showDay,
  showValue,
  summarise,
  tableFromText,
  understand,
  type CellFormat,
  type DictionaryEntry,
  type Kind,
} from '../../src/table/index.ts';
import { quantile } from '../../src/numeric/index.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';

/** Cells as extracts have them: numbers in both spellings, dates in three, words, gaps, codes. */
const cells = [
  ...['', 'NA', 'n/a', ' ', '.', '-', '?'],
  ...['0', '1', '9', '-1', '12', '3.5', '1,5', '1.250,75', '1,250.75', '1e3', '.5', ',5', '<5'],
  ...['2024-02-29', '2024-02-30', '31/12/2024', '12/31/2024', '05.06.2024', '2024-06-05 08:15'],
  ...['yes', 'NO', 'ja', 'x', 'positive', 'unknown', 'Carrick Lea', 'Carrick lea', 'a "b", c'],
];

const draw = randomStream(7, 'consistency');
const drawn = (count: number) =>
  Array.from({ length: count }, () => cells[Math.floor(draw.uniform() * cells.length)]);

function entryOf(kind: Kind, format?: CellFormat, codes: string[] = []): DictionaryEntry {
  const entry: DictionaryEntry = {
    name: 'x',
    label: '',
    unit: '',
    kind,
    role: 'set aside',
    missingCodes: codes,
  };
  return format ? { ...entry, format } : entry;
}

const ways = kinds.flatMap((kind) =>
  [undefined, ...cellFormats].map((format) => [kind, format] as const),
);

describe('what is said of a column before it is stored', () => {
  it.each(ways)('is what it becomes: %s, %s', (kind, format) => {
    for (const codes of [[], ['9', 'unknown']]) {
      const column = drawn(400);
      const entry = entryOf(kind, format, codes);
      const counter = new ColumnCells('x');
      for (const cell of column) counter.add(cell);
      const tally = counter.tally();
      const said = understand(tally, entry);
      const stored = tableFromText(
        ['x'],
        column.map((cell) => [cell]),
        [entry],
      ).columns[0];
      expect(said.read).toBe(400 - countMissing(stored));
      expect(said.missing + said.unreadable).toBe(countMissing(stored));
      if (stored.type === 'number' && said.read > 0) {
        const { least, greatest } = summarise(stored).numbers!;
        // A declared code may lie at an end: what is said of the ends does not know of codes.
        if (codes.length === 0) expect(readEnds(tally, entry)).toEqual([least, greatest]);
      }
    }
  });

  it('does not depend on the order of rows', () => {
    const column = drawn(300);
    const count = (order: string[]) => {
      const counter = new ColumnCells('x');
      for (const cell of order) counter.add(cell);
      return counter.tally();
    };
    const [straight, turned] = [count(column), count([...column].reverse())];
    expect(proposeEntry(turned)).toEqual(proposeEntry(straight));
    const sorted = (tally: typeof straight) => ({
      ...tally,
      distinct: [...tally.distinct].sort((a, b) => (a[0] < b[0] ? -1 : 1)),
    });
    expect(sorted(turned)).toEqual(sorted(straight));
  });

  it('holds beyond the values that are counted one by one', () => {
    const column = Array.from({ length: 2000 }, (_, i) => (i % 10 ? `${i / 4}` : 'haemolysed'));
    const counter = new ColumnCells('x');
    for (const cell of column) counter.add(cell);
    const tally = counter.tally();
    expect(tally.manyDistinct).toBe(true);
    expect(understand(tally, entryOf('number'))).toMatchObject({ read: 1800, unreadable: 200 });
  });
});

describe('values that are shown', () => {
  it('read back to the same: shown text is a cell of the same kind', () => {
    for (const kind of kinds) {
      const column = drawn(200);
      const entry = entryOf(kind);
      const rows = (from: string[]) => from.map((cell) => [cell]);
      const first = tableFromText(['x'], rows(column), [entry]);
      const shown = column.map((_, row) => showValue(first.columns[0], row, kind === 'date'));
      const again = tableFromText(['x'], rows(shown), [{ ...first.dictionary[0] }]);
      shown.forEach((text, row) => {
        expect(isMissing(again.columns[0], row)).toBe(isMissing(first.columns[0], row));
        expect(showValue(again.columns[0], row, kind === 'date')).toBe(text);
      });
    }
  });

  it('of dates are ISO 8601, before and after 1970', () => {
    expect([showDay(0), showDay(-1), showDay(19782)]).toEqual([
      '1970-01-01',
      '1969-12-31',
      '2024-02-29',
    ]);
  });
});

describe('summaries of the urine data (Andrews & Herzberg 1985), as an independent library gives them', () => {
  interface Described {
    mean: number;
    sd_sample: number;
    median: number;
    min: number;
    max: number;
    quantiles_type7: Record<string, number>;
  }
  // 77 complete rows; scipy 1.10.1 and numpy 1.24.2, relative 1e-9.
  const { describe: expected } = loadValues<{ describe: Record<string, Described> }>(
    'describe_urine',
  );
  const urine = loadTable('urine');
  const complete = Array.from({ length: urine.rowCount }, (_, row) => row).filter((row) =>
    urine.columns.every((column) => !isMissing(column, row)),
  );

  it.each(Object.entries(expected))('%s', (name, values) => {
    const all = numbers(urine, name);
    const column = { type: 'number' as const, values: Float64Array.from(complete, (r) => all[r]) };
    const { numbers: summary } = summarise(column);
    expect(summary!.mean).toBeCloseTo(values.mean, 9);
    expect(summary!.sd / values.sd_sample).toBeCloseTo(1, 9);
    expect([summary!.least, summary!.greatest]).toEqual([values.min, values.max]);
    expect(summary!.median).toBeCloseTo(values.median, 12);
    for (const [share, value] of Object.entries(values.quantiles_type7))
      expect(quantile(column.values, Number(share))).toBeCloseTo(value, 9);
  });
});

it('every coded kind has levels, and no other', () => {
  for (const kind of kinds) {
    const { dictionary } = tableFromText(['x'], [['1'], ['2']], [entryOf(kind)]);
    expect(dictionary[0].levels !== undefined).toBe(isCoded(kind));
  }
});
