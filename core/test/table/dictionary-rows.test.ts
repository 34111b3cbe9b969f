import { describe, expect, it } from 'vitest';
import {
  applyDictionaryRows,
  ColumnBuilder,
  commonMeasures,
  commonRange,
  dictionaryHeader,
  dictionaryRows,
  readsAlike,
  type Dictionary,
  type DictionaryEntry,
} from '../../src/table/index.ts';

const entry = (name: string, part: Partial<DictionaryEntry> = {}): DictionaryEntry => ({
  name,
  label: '',
  unit: '',
  kind: 'number',
  role: 'predictor',
  missingCodes: [],
  ...part,
});

const dictionary: Dictionary = [
  entry('creatinine', {
    label: 'Creatinine, first',
    unit: 'µmol/L',
    missingCodes: ['-9', 'n|a'],
    format: 'decimal comma',
    plausible: { least: 10, most: null, beyond: 'not known' },
    note: 'of the clinic\n"first visit"',
  }),
  entry('smoking', {
    kind: 'ordered category',
    levels: ['never', 'a | b', 'current'],
    spellings: { '1': 'never', '2=x': 'current' },
  }),
  entry('died', { kind: 'yes/no', role: 'outcome', levels: ['no', 'yes'] }),
  entry('ratio', {
    formula: "if(creatinine > 90, 'high', 'low')",
    kind: 'category',
    levels: ['high', 'low'],
  }),
];
const plain = (): Dictionary =>
  dictionary.map(({ name, formula, kind, levels }) =>
    formula ? entry(name, { formula, kind, levels }) : entry(name),
  );

describe('a dictionary as a file', () => {
  it('gives back what it was, bars, equals signs and line breaks included', () => {
    const applied = applyDictionaryRows(dictionaryRows(dictionary), plain())!;
    expect(applied.dictionary).toEqual(dictionary);
    expect(applied).toMatchObject({ unmatched: [], unnamed: [], added: [], faults: [] });
    expect(applyDictionaryRows(dictionaryRows(dictionary), dictionary)!.changed).toEqual([]);
  });

  it('says what did not match', () => {
    const rows = dictionaryRows([...dictionary, entry('weight')]);
    const applied = applyDictionaryRows(rows, [...plain().slice(1), entry('height')])!;
    expect(applied.unmatched).toEqual(['creatinine', 'weight']);
    expect(applied.unnamed).toEqual(['height']);
    expect(applied.changed).toEqual(['smoking', 'died']);
  });

  it('adds derived columns that the cohort does not have', () => {
    const applied = applyDictionaryRows(dictionaryRows(dictionary), plain().slice(0, 3))!;
    expect(applied.added).toEqual(['ratio']);
    expect(applied.dictionary[3]).toEqual(dictionary[3]);
  });

  it('leaves alone what the file has no column for', () => {
    const rows = [
      ['Name', 'Unit'],
      ['creatinine', 'mg/dL'],
    ];
    const applied = applyDictionaryRows(rows, dictionary)!;
    expect(applied.dictionary[0]).toEqual({ ...dictionary[0], unit: 'mg/dL' });
    expect(applied.dictionary.slice(1)).toEqual(dictionary.slice(1));
  });

  it('keeps what it cannot understand as it was, and says so', () => {
    const rows = [
      ['name', 'kind', 'role', 'plausible from'],
      ['creatinine', 'float', 'boss', 'low'],
      ['creatinine', 'numeric', '', 'low'],
    ];
    const { dictionary: after, faults } = applyDictionaryRows(rows, dictionary)!;
    expect(after[0]).toEqual(dictionary[0]);
    expect(faults).toEqual([
      'creatinine is named twice; its last line counts.',
      'creatinine: “numeric” is not one of number, category, ordered category, yes/no, date, text; it stays as it was.',
      'creatinine: its plausible range is not two numbers; it stays as it was.',
    ]);
  });

  it('is not taken for one without a column of names', () => {
    expect(
      applyDictionaryRows(
        [
          ['a', 'b'],
          ['1', '2'],
        ],
        dictionary,
      ),
    ).toBeUndefined();
    expect(applyDictionaryRows([], dictionary)).toBeUndefined();
    expect(dictionaryHeader[0]).toBe('name');
  });
});

describe('plausible ranges', () => {
  it('are found by word and unit, the more particular word first', () => {
    const range = (name: string, unit: string, label = '') =>
      commonRange(entry(name, { unit, label }))?.range;
    expect(range('creatinine', 'µmol/L')).toEqual([10, 3000]);
    expect(range('s_creatinine', 'mg/dl')).toEqual([0.1, 34]);
    expect(range('x', 'g/L', 'Haemoglobin')).toEqual([20, 260]);
    expect(range('glycated_haemoglobin', 'mmol/mol')).toEqual([9, 220]);
    expect(range('bmi', 'kg/m²')).toEqual([8, 100]);
    expect(range('wbc', '×10⁹/L')).toEqual([0, 800]);
    expect(range('egfr', 'mL/min/1.73 m²')).toEqual([1, 250]);
    expect(range('creatinine', 'mmol/L')).toBeUndefined();
    expect(range('page', 'years')).toBeUndefined();
    expect(commonRange(entry('age', { unit: 'years', kind: 'category' }))).toBeUndefined();
  });

  it('of every measure go up and leave room for the sick', () => {
    for (const { name, ranges } of commonMeasures)
      for (const [least, most] of Object.values(ranges)) expect(most, name).toBeGreaterThan(least);
  });

  it('take values beyond them out where that is said, and only there', () => {
    const read = (beyond: 'kept' | 'not known') => {
      const builder = new ColumnBuilder(entry('k', { plausible: { least: 1, most: 12, beyond } }));
      for (const cell of ['0', '1', '4.5', '12', '45', '']) builder.add(cell);
      const column = builder.result();
      return column.type === 'number' ? [...column.values] : [];
    };
    expect(read('not known')).toEqual([NaN, 1, 4.5, 12, NaN, NaN]);
    expect(read('kept')).toEqual([0, 1, 4.5, 12, 45, NaN]);
  });

  it('count as another reading only where values go', () => {
    const kept = entry('k', { plausible: { least: 1, most: 12, beyond: 'kept' } });
    expect(readsAlike(entry('k'), kept)).toBe(true);
    expect(
      readsAlike(kept, { ...kept, plausible: { ...kept.plausible!, beyond: 'not known' } }),
    ).toBe(false);
  });
});
