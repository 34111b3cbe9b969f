import { describe, expect, it } from 'vitest';
import {
  ColumnCells,
  defaultLevels,
  levelsAfterChange,
  proposeEntries,
  readEnds,
  readsAlike,
  showValue,
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

const propose = (columns: Record<string, string[]>) =>
  proposeEntries(Object.entries(columns).map(([name, cells]) => count(name, cells)));

function entry(name: string, kind: Kind, part: Partial<DictionaryEntry> = {}): DictionaryEntry {
  return { name, label: '', unit: '', kind, role: 'predictor', missingCodes: [], ...part };
}

function read(cells: string[], as: DictionaryEntry): string[] {
  const table = tableFromText(
    [as.name],
    cells.map((cell) => [cell]),
    [as],
  );
  return cells.map((_, row) => showValue(table.columns[0], row, as.kind === 'date'));
}

describe('numbers with a decimal comma', () => {
  it('are seen for what they are', () => {
    const [{ entry: crp, reason }] = propose({ crp: ['0,5', '12,75', '3', '1.250,5'] });
    expect(crp).toMatchObject({ kind: 'number', format: 'decimal comma' });
    expect(reason).toBe('Numbers with a decimal comma.');
  });

  it('are read with points between thousands', () => {
    const comma = entry('x', 'number', { format: 'decimal comma' });
    expect(read(['0,5', '1.250,5', '-3', '12.5', '1,2,3'], comma)).toEqual([
      '0.5',
      '1250.5',
      '-3',
      '',
      '',
    ]);
  });

  it('do not change how a column with points is read', () => {
    const proposals = propose({ a: ['0,5', '1,5'], b: ['0.5', '1.5'], c: ['7', '8'] });
    expect(proposals.map((one) => one.entry.format)).toEqual([
      'decimal comma',
      undefined,
      undefined,
    ]);
    expect(read(['1,250.5', '12,5', '2'], entry('x', 'number'))).toEqual(['1250.5', '', '2']);
  });

  it('decide columns that could be read either way, by the habit of the file', () => {
    // 1,234 is one and a bit in a file of decimal commas, and over a thousand elsewhere.
    const either = ['1,234', '2,345'];
    expect(propose({ a: ['0,5', '7,25'], either })[1].entry.format).toBe('decimal comma');
    expect(propose({ a: ['0.5', '7.25'], either })[1].entry.format).toBeUndefined();
  });

  it('give their ends and what cannot be read', () => {
    const tally = count('x', ['0,5', '12,5', '<5', '']);
    const comma = entry('x', 'number', { format: 'decimal comma' });
    expect(readEnds(tally, comma)).toEqual([0.5, 12.5]);
    expect(understand(tally, comma)).toEqual({
      read: 2,
      missing: 1,
      unreadable: 1,
      examples: ['<5'],
    });
    expect(understand(tally, entry('x', 'number')).unreadable).toBe(3);
  });
});

describe('dates', () => {
  it.each([
    [['31/12/2024', '05/06/2024'], 'day first', /Dates, day first/],
    [['12/31/2024', '05/06/2024'], 'month first', /Dates, month first/],
    [['05/06/2024', '01/02/2024'], 'day first', /could also be read month first/],
    [['31.12.2024', '1.6.2024 08:15'], 'day first', /Dates, day first/],
  ])('%j are taken %s, and the guess is said', (cells, format, said) => {
    const [{ entry: seen, reason }] = propose({ seen: cells });
    expect(seen).toMatchObject({ kind: 'date', format, role: 'set aside' });
    expect(reason).toMatch(said);
  });

  it('of ISO 8601 need no guess and are read under every order', () => {
    expect(propose({ seen: ['2024-12-31', '2024-02-29T10:15'] })[0].entry.format).toBeUndefined();
    const cells = ['05/06/2024', '2024-06-05', '30/02/2024'];
    expect(read(cells, entry('seen', 'date', { format: 'day first' }))).toEqual([
      '2024-06-05',
      '2024-06-05',
      '',
    ]);
    expect(read(cells, entry('seen', 'date', { format: 'month first' }))).toEqual([
      '2024-05-06',
      '2024-06-05',
      '',
    ]);
  });
});

describe('yes and no', () => {
  it.each([
    ['ja', 'nein'],
    ['Y', 'N'],
    ['oui', 'non'],
    ['TRUE', 'FALSE'],
    ['positive', 'negative'],
    ['1', '0'],
  ])('%s and %s', (yes, no) => {
    expect(propose({ x: [yes, no, yes] })[0].entry.kind).toBe('yes/no');
    expect(read([yes, no, ''], entry('x', 'yes/no'))).toEqual(['yes', 'no', '']);
  });

  it('by codes that the dictionary names', () => {
    const coded = entry('x', 'yes/no', { spellings: { '1': 'yes', '2': 'no' } });
    expect(read(['1', '2', '9'], coded)).toEqual(['yes', 'no', '']);
    expect(understand(count('x', ['1', '2', '9']), coded)).toMatchObject({
      read: 2,
      unreadable: 1,
    });
  });
});

describe('levels under another name', () => {
  const smoking = entry('smoking', 'category', {
    spellings: { '1': 'never', '2': 'former', '3': 'current', Never: 'never' },
    missingCodes: ['9'],
  });
  const tally = count('smoking', ['2', '1', '3', '9', '1', 'Never']);

  it('stand in the order of their codes, each once', () => {
    expect(defaultLevels(tally, smoking)).toEqual(['never', 'former', 'current']);
  });

  it('keep the order the analyst gave them when an entry is changed; new ones follow', () => {
    const declared = ['current', 'never', 'former'];
    const words = { ...smoking, spellings: { ...smoking.spellings, '3': 'smoker' } };
    expect(levelsAfterChange(tally, words, declared)).toEqual(['never', 'former', 'smoker']);
    expect(levelsAfterChange(tally, smoking, declared)).toEqual(declared);
  });

  it('are what is stored, so that later cohorts and tables show them', () => {
    expect(read(['3', '1', 'Never', '9'], smoking)).toEqual(['current', 'never', 'never', '']);
  });

  it('count as another reading; label, unit and role do not', () => {
    expect(readsAlike(smoking, { ...smoking, label: 'Smoking', role: 'set aside' })).toBe(true);
    expect(readsAlike(smoking, { ...smoking, spellings: {} })).toBe(false);
    expect(readsAlike(smoking, { ...smoking, missingCodes: [] })).toBe(false);
  });
});
