import { describe, expect, it } from 'vitest';
import { patientKeys } from '../../src/design/index.ts';
import { CountError, standFor } from '../../src/selection/index.ts';
import { surveyTable } from '../../src/survey/index.ts';
import { tableFromText, type Column, type DictionaryEntry } from '../../src/table/index.ts';

const entry: DictionaryEntry = {
  name: 'n',
  label: 'Patients',
  unit: '',
  kind: 'number',
  role: 'number of patients',
  missingCodes: [],
};
const counts = (...values: number[]): Column => ({
  type: 'number',
  values: Float64Array.from(values),
});

describe('rows that stand for several patients', () => {
  it('come as often as they have patients, in their order; those of nobody go', () => {
    const { rows, unknown } = standFor(Int32Array.of(0, 1, 3, 4), entry, counts(2, 0, 9, NaN, 3));
    expect([...rows]).toEqual([0, 0, 4, 4, 4]);
    expect(unknown).toBe(1);
  });

  it.each([
    [counts(2, 1.5), /Patients has 1.5 in row 2/],
    [counts(2, -1), /not below 0/],
    [counts(3_000_000, 3_000_000), /adds up to 6,000,000 patients/],
    [{ type: 'text' as const, values: ['2', '3'] }, /not read as a number/],
  ])('are refused in a sentence where a number is none of patients', (column, sentence) => {
    const count = () => standFor(Int32Array.of(0, 1), entry, column);
    expect(count).toThrow(CountError);
    expect(count).toThrow(sentence);
  });

  it('are told apart as patients of a plain table are, and are no duplicates', () => {
    const header = ['group', 'event'];
    const plain = tableFromText(header, [
      ['a', 'yes'],
      ['a', 'yes'],
      ['b', 'no'],
      ['b', 'yes'],
    ]);
    const grouped = {
      ...plain,
      dictionary: [...plain.dictionary, entry],
      columns: [...plain.columns, counts(2, 2, 1, 1)],
    };
    expect(patientKeys(grouped, -1)).toEqual(patientKeys(plain, -1));
    const codes = (table: typeof plain) => surveyTable(table).map(({ code }) => code);
    expect(codes(plain)).toContain('duplicated patients');
    expect(codes(grouped)).not.toContain('duplicated patients');
  });
});
