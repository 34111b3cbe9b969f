import { describe, expect, it } from 'vitest';
import {
  ColumnBuilder,
  ColumnCells,
  commonRange,
  conversionsTo,
  convert,
  defaultLevels,
  proposeEntries,
  readDay,
  readNumber,
  showValue,
  understand,
  type DictionaryEntry,
  type Kind,
} from '../../src/table/index.ts';

function tally(name: string, cells: string[]) {
  const counter = new ColumnCells(name);
  for (const cell of cells) counter.add(cell);
  return counter.tally();
}

function entry(kind: Kind, part: Partial<DictionaryEntry> = {}): DictionaryEntry {
  return { name: 'x', label: '', unit: '', kind, role: 'predictor', missingCodes: [], ...part };
}

function read(cells: string[], as: DictionaryEntry): string[] {
  const builder = new ColumnBuilder(as);
  for (const cell of cells) builder.add(cell);
  const column = builder.result();
  return cells.map((_, row) => showValue(column, row));
}

describe('commas in numbers', () => {
  it.each([
    ['0,123', NaN, 0.123],
    ['00,123', NaN, 0.123],
    ['-0,500', NaN, -0.5],
    ['1,234', 1234, 1.234],
    ['12,345,678', 12345678, NaN],
    ['0.123', 0.123, NaN],
    ['1.234', 1.234, 1234],
    ['0.123,5', NaN, NaN],
  ])('%s is %d with a decimal point, %d with a decimal comma', (cell, point, comma) => {
    expect(readNumber(cell)).toBe(point);
    expect(readNumber(cell, 'decimal comma')).toBe(comma);
  });

  const propose = (columns: Record<string, string[]>) =>
    proposeEntries(Object.entries(columns).map(([name, cells]) => tally(name, cells)));

  it('are a decimal comma as soon as one cell begins with a zero', () => {
    const [{ entry: crp }] = propose({ crp: ['1,234', '0,123', '3,500'] });
    expect(crp).toMatchObject({ kind: 'number', format: 'decimal comma' });
  });

  it('are asked about when every cell could be either, and no number is guessed', () => {
    const [one] = propose({ crp: ['1,234', '2,500', '3,125'] });
    expect(one.asks).toBe('thousands');
    expect(one.entry).toMatchObject({ kind: 'text', role: 'set aside' });
    expect(one.reason).toContain('1234 or 1.234');
  });

  it('follow the habit of the file where it is clear', () => {
    const either = ['1,234', '2,500', '3,125'];
    expect(propose({ crp: either, age: ['60,5', '61,25', '70'] })[0].entry).toMatchObject({
      kind: 'number',
      format: 'decimal comma',
    });
    const [counted] = propose({ crp: either, age: ['60.5', '61.2', '70'] });
    expect(counted.entry.kind).toBe('number');
    expect(counted.entry.format).toBeUndefined();
    expect(propose({ crp: either, a: ['6,5', '7,2'], b: ['1.5', '2.5'] })[0].asks).toBe(
      'thousands',
    );
  });
});

describe('codes that mean not known', () => {
  it.each<[Kind, string[], string, string[]]>([
    ['number', ['0.0', '0', '00', '12'], '0', ['', '', '', '12']],
    ['number', ['-9', '-9.00', '9'], '-9', ['', '', '9']],
    ['category', ['9', '9.0', '1'], '9', ['', '', '1']],
    ['category', ['nine', 'Nine', '1'], 'nine', ['', 'Nine', '1']],
    ['text', ['09', '9', 'x'], '9', ['09', '', 'x']],
  ])('of a %s: %j with the code %s', (kind, cells, code, expected) => {
    const as = entry(kind, { missingCodes: [code] });
    expect(read(cells, as)).toEqual(expected);
    const counted = understand(tally('x', cells), as);
    expect(counted.missing).toBe(expected.filter((value) => value === '').length);
  });

  it('are read under a decimal comma as well', () => {
    const as = entry('number', { missingCodes: ['99'], format: 'decimal comma' });
    expect(read(['99,0', '1,5'], as)).toEqual(['', '1.5']);
  });
});

describe('levels that are numbers', () => {
  it('are the same level however the number is written, under its plain spelling', () => {
    expect(defaultLevels(tally('grade', ['1.0', '2', '1', '2.0']), entry('category'))).toEqual([
      '1',
      '2',
    ]);
    expect(read(['1.0', '2.0', '1'], entry('category', { levels: ['1', '2'] }))).toEqual([
      '1',
      '2',
      '1',
    ]);
  });

  it('keep their spelling where there is only one, and their names', () => {
    expect(defaultLevels(tally('grade', ['1.0', '2.0']), entry('category'))).toEqual([
      '1.0',
      '2.0',
    ]);
    const named = entry('category', { spellings: { 1: 'never', 2: 'ever' } });
    expect(read(['1.0', '2', '3'], named)).toEqual(['never', 'ever', '3']);
  });
});

describe('years', () => {
  it.each([
    ['0024-05-01', undefined],
    ['01.05.0024', 'day first'],
    ['0999-12-31', undefined],
  ] as const)('%s is no day of this century', (cell, format) => {
    expect(readDay(cell, format)).toBeNaN();
  });
  it('of four digits are what they say', () => {
    expect(new Date(readDay('1924-05-01') * 86_400_000).getUTCFullYear()).toBe(1924);
    expect(readDay('1970-01-02')).toBe(1);
  });
});

describe('limits and units of common measures', () => {
  it('are not offered for another specimen, nor for a bare ph', () => {
    const urea = { name: 'urea', label: 'Urea', unit: 'mmol/L', kind: 'number' as const };
    expect(commonRange(urea)?.measure).toBe('urea');
    expect(commonRange({ ...urea, label: 'Urea in urine' })).toBeUndefined();
    expect(commonRange({ ...urea, name: 'ph', label: 'Ph', unit: '' })).toBeUndefined();
    expect(commonRange({ ...urea, name: 'arterial_ph', label: '', unit: '' })?.measure).toBe(
      'blood pH',
    );
  });

  it.each([
    // From memory: 1 mg/dL of creatinine is 88.4 µmol/L, 6.5% HbA1c 48 mmol/mol, 37 °C 98.6 °F.
    ['creatinine', 'µmol/L', 'mg/dL', 1, 88.4, 1],
    ['creatinine', 'mg/dL', 'µmol/L', 88.4, 1, 6],
    ['HbA1c', 'mmol/mol', '%', 6.5, 48, 0],
    ['temperature', '°C', '°F', 98.6, 37, 6],
    ['haemoglobin', 'g/dL', 'g/L', 140, 14, 6],
    ['glucose', 'mg/dL', 'mmol/L', 5.5, 99, 0],
  ])('%s to %s from %s', (label, unit, from, value, expected, digits) => {
    const found = conversionsTo({ name: label, label, unit }).find((one) => one.from === from)!;
    expect(convert(value, found)).toBeCloseTo(expected, digits);
  });

  it('are unknown for what is no common measure', () => {
    expect(conversionsTo({ name: 'score', label: '', unit: 'points' })).toEqual([]);
  });
});
