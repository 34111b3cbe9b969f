import { describe, expect, it } from 'vitest';
import {
  ColumnBuilder,
  ColumnCells,
  TooManyLevels,
  type Column,
  type DictionaryEntry,
  type Kind,
} from '../../src/table/index.ts';

const entry = (kind: Kind, part: Partial<DictionaryEntry> = {}): DictionaryEntry => ({
  name: 'x',
  label: '',
  unit: '',
  kind,
  role: 'predictor',
  missingCodes: ['999'],
  ...part,
});

const kept = (cells: string[]) => {
  const column = new ColumnCells('x');
  for (const cell of cells) column.add(cell);
  return column;
};

/** Cell by cell, without keeping any. */
function plainly(cells: string[], as: DictionaryEntry): Column {
  const builder = new ColumnBuilder(as);
  for (const cell of cells) builder.add(cell);
  return builder.result();
}

/** Spellings that are near each other: the shortcuts for plain numbers must tell them apart. */
const spellings = [
  ...['1', '01', '1.0', '1.', '.5', '0.5', '0.50', '-1', '+1', '1e2', '12,5', '1.250', '999'],
  ...['999.0', '', ' 7 ', '7', '\t7', 'NA', '?', '99999', '99999.9', '100000', '0', '00', '0.000'],
  ...['2024-02-30', '2024-02-28', '31/12/2024', 'yes', 'No', 'a value of thirteen or more'],
];
const numbers = (count: number) =>
  Array.from({ length: count }, (_, i) => (i % 7 === 0 ? '' : `${(i * 7919) % count}.${i % 10}`));
const columns: [string, string[]][] = [
  ['spellings', [...spellings, ...spellings.toReversed()]],
  [
    'few values in many rows',
    Array.from({ length: 9000 }, (_, i) => spellings[i % spellings.length]),
  ],
  ['an identifier', Array.from({ length: 20_000 }, (_, i) => `P${i % 19_000}`)],
  ['fine numbers', numbers(30_000)],
  [
    'cells that hold the mark between kept cells',
    Array.from({ length: 20_000 }, (_, i) => `a\u001f${i}`),
  ],
];
const kinds: DictionaryEntry[] = [
  entry('number'),
  entry('number', { format: 'decimal comma' }),
  entry('number', { plausible: { least: 0, most: 50, beyond: 'not known' } }),
  entry('date', { format: 'day first' }),
  entry('text'),
];

describe('the cells of a column that were kept', () => {
  it.each(columns)('%s: are read as if the file were read again', (_, cells) => {
    const column = kept(cells);
    for (const as of kinds) expect(column.column(as)).toEqual(plainly(cells, as));
  });

  it('have the levels that the file has, in their order', () => {
    const cells = columns[1][1];
    const column = kept(cells);
    for (const as of [entry('yes/no'), entry('category'), entry('category', { levels: ['No'] })])
      expect(column.column(as)).toEqual(plainly(cells, as));
    expect(() => kept(columns[2][1]).column(entry('category'))).toThrow(TooManyLevels);
  });

  it('are counted the same whether there are few different ones or many', () => {
    const cells = columns[3][1];
    const found = cells.filter(Boolean).map(Number);
    const tally = kept(cells).tally();
    expect(tally).toMatchObject({ rows: 30_000, empty: Math.ceil(30_000 / 7), manyDistinct: true });
    expect(tally.points.cells).toBe(tally.rows - tally.empty);
    expect([tally.points.least, tally.points.most]).toEqual(
      [Math.min, Math.max].map((end) => found.reduce((a, b) => end(a, b))),
    );
  });

  it('can be let go, and are counted on', () => {
    const column = kept(['1', '2']);
    column.forget();
    column.add('2');
    expect(column.tally().distinct).toEqual([
      ['1', 1],
      ['2', 2],
    ]);
    expect(column.bytes).toBe(0);
    expect(() => column.column(entry('number'))).toThrow('not kept');
  });
});
