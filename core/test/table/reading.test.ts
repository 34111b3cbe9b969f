import { describe, expect, it } from 'vitest';
import {
  ColumnCells,
  TooManyLevels,
  proposeEntries,
  proposeEntry,
  showValue,
  summarise,
  tableFromText,
  understand,
  type DictionaryEntry,
  type Kind,
} from '../../src/table/index.ts';

function count(name: string, cells: string[]) {
  const counter = new ColumnCells(name);
  for (const cell of cells) counter.add(cell);
  return counter.tally();
}

const propose = (name: string, cells: string[]) => proposeEntry(count(name, cells)).entry;
const repeat = (cells: string[], times: number) =>
  Array.from({ length: times }, () => cells).flat();

function entry(name: string, kind: Kind, part: Partial<DictionaryEntry> = {}): DictionaryEntry {
  return { name, label: '', unit: '', kind, role: 'predictor', missingCodes: [], ...part };
}

describe('what a column is taken for', () => {
  it.each<[string, string[], Kind]>([
    ['numbers', ['1.5', '-2', '3e2', '', 'NA'], 'number'],
    ['yes and no', ['yes', 'no', 'Yes', ''], 'yes/no'],
    ['0 and 1', ['0', '1', '1', '0'], 'yes/no'],
    ['0.0 and 1.0', ['0.0', '1.0', '1.00', ''], 'yes/no'],
    ['dates', ['2024-02-29', '2024-03-01'], 'date'],
    ['few words', repeat(['low', 'high', 'middle'], 10), 'category'],
    ['nothing', ['', 'NA', '.'], 'text'],
  ])('%s', (_name, cells, kind) => {
    expect(propose('x', cells).kind).toBe(kind);
  });

  it('takes a number column with a few other words for numbers, and counts those', () => {
    const cells = [...repeat(['4', '5', '7'], 20), '<5', 'haemolysed'];
    const tally = count('crp', cells);
    expect(proposeEntry(tally)).toMatchObject({
      entry: { kind: 'number' },
      reason: '2 cells are not a number.',
    });
    expect(understand(tally, entry('crp', 'number'))).toEqual({
      read: 60,
      missing: 0,
      unreadable: 2,
      examples: ['<5', 'haemolysed'],
    });
  });

  it('takes an identifier from name and values together', () => {
    const different = Array.from({ length: 40 }, (_, i) => String(4000 + i));
    expect(propose('patient_id', different)).toMatchObject({ role: 'identifier', kind: 'text' });
    const measured = different.map((cell, i) => String(Number(cell) + ((i * 7) % 40)));
    expect(propose('creatinine', measured).role).toBe('predictor');
    expect(propose('patient_id', repeat(['1', '2'], 20)).role).not.toBe('identifier');
  });

  it('reads numbers equal to 1 and 0 as yes and no, and no others', () => {
    const cells = ['1.0', '0.0', '1,0', '0.00', '+1.0', '1', '0', '1.5', '10', '0.01'];
    const found = understand(count('x', cells), entry('x', 'yes/no'));
    expect(found).toMatchObject({ read: 7, unreadable: 3 });
  });

  it('takes one identifier only: the patient’s, wherever it stands', () => {
    const different = Array.from({ length: 40 }, (_, i) => `A${i}`);
    const rolesOf = (names: string[]) =>
      proposeEntries(names.map((name) => count(name, different))).map(({ entry }) => entry.role);
    expect(rolesOf(['admission_id', 'patient_id', 'id'])).toEqual([
      ...['set aside', 'identifier', 'set aside'],
    ]);
    expect(rolesOf(['sample number', 'id'])).toEqual(['set aside', 'identifier']);
    expect(rolesOf(['record_id', 'visit_no'])).toEqual(['identifier', 'set aside']);
  });

  it('takes a running number for an identifier, once, whatever it is called', () => {
    const running = Array.from({ length: 300 }, (_, i) => String(1 + i));
    for (const name of ['pid', 'X', 'row', 'Unnamed: 0'])
      expect(propose(name, running)).toMatchObject({ role: 'identifier', kind: 'text' });
    const both = proposeEntries([count('patient_id', running.toReversed()), count('X', running)]);
    expect(both.map(({ entry: { role } }) => role)).toEqual(['identifier', 'set aside']);
    expect(propose('p', ['1', '2', '3']).role).toBe('predictor');
    expect(
      propose(
        'x',
        running.map((cell) => `${cell}.5`),
      ).role,
    ).toBe('predictor');
    expect(propose('x', [...running, '300']).role).toBe('predictor');
    expect(propose('x', ['', ...running]).role).toBe('predictor');
    expect(propose('age', running.slice(29)).role).toBe('predictor');
  });

  it('reads a unit from the name', () => {
    expect(propose('Albumin (g/L)', ['39', '41', '7'])).toMatchObject({
      label: 'Albumin',
      unit: 'g/L',
    });
  });

  it('sets dates and free text aside: no model can use them', () => {
    expect(propose('seen', ['2024-01-01', '2024-01-02']).role).toBe('set aside');
  });
});

describe('reading cells as the dictionary says', () => {
  it('keeps declared codes, empty cells and unreadable cells as not known', () => {
    const table = tableFromText(
      ['albumin', 'smoking', 'seen'],
      [
        ['39', 'never', '2024-02-29'],
        ['0', '9', '2024-02-30'],
        ['', 'former', ''],
        ['haemolysed', 'never', '2023-12-31T10:15'],
      ],
      [
        entry('albumin', 'number', { missingCodes: ['0'] }),
        entry('smoking', 'category', { missingCodes: ['9'], levels: ['never', 'former'] }),
        entry('seen', 'date'),
      ],
    );
    const shown = table.columns.map((column, i) =>
      [0, 1, 2, 3].map((row) => showValue(column, row, table.dictionary[i].kind === 'date')),
    );
    expect(shown).toEqual([
      ['39', '', '', ''],
      ['never', '', 'former', 'never'],
      ['2024-02-29', '', '', '2023-12-31'],
    ]);
  });

  it('orders levels as declared, new ones after them, the same whatever the order of rows', () => {
    const dictionary = [entry('grade', 'ordered category', { levels: ['2', '1'] })];
    const levels = (cells: string[]) =>
      tableFromText(
        ['grade'],
        cells.map((cell) => [cell]),
        dictionary,
      ).dictionary[0].levels;
    expect(levels(['10', '3', '1', '2'])).toEqual(['2', '1', '3', '10']);
    expect(levels(['1', '2', '3', '10'])).toEqual(['2', '1', '3', '10']);
  });

  it('refuses a category with more than a thousand levels, by name', () => {
    const rows = Array.from({ length: 1200 }, (_, i) => [`note ${i}`]);
    expect(() => tableFromText(['note'], rows, [entry('note', 'category')])).toThrow(TooManyLevels);
  });
});

describe('summaries', () => {
  it('use type 7 quantiles and divisor n - 1', () => {
    // Hyndman & Fan (1996): type 7 of 1, 2, 3, 4 is 1.75 and 3.25; the SD is by hand.
    const { numbers, missing } = summarise({
      type: 'number',
      values: Float64Array.of(4, NaN, 2, 1, 3),
    });
    expect(missing).toBe(1);
    expect(numbers).toMatchObject({
      lowerQuartile: 1.75,
      median: 2.5,
      upperQuartile: 3.25,
      mean: 2.5,
    });
    expect(numbers!.sd).toBeCloseTo(Math.sqrt(5 / 3), 14);
  });

  it('of a column without any known value has no numbers, and never NaN', () => {
    expect(summarise({ type: 'number', values: Float64Array.of(NaN, NaN) })).toEqual({
      missing: 2,
    });
  });
});
