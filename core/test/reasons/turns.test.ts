import { describe, expect, it } from 'vitest';
import type { PredictorColumn } from '../../src/preparation/index.ts';
import { smallestChanges, takenRows, type Ask } from '../../src/reasons/index.ts';

const count = 60;
const steps = Float64Array.from({ length: count }, (_, i) => i % 20);
const grades = Int32Array.from({ length: count }, (_, i) => i % 4);
const wards = Int32Array.from({ length: count }, (_, i) => (i % 5 === 0 ? 1 : 0));
const others: PredictorColumn[] = [
  { name: 'level', type: 'number', values: steps },
  { name: 'dose', type: 'number', values: steps.map((value) => value / 2) },
  { name: 'grade', type: 'coded', ordered: true, levels: ['a', 'b', 'c', 'd'], codes: grades },
  { name: 'ward', type: 'coded', ordered: false, levels: ['north', 'south', 'west'], codes: wards },
];
const all = others.map(({ name }) => name);
const patientOf = (level: number, dose: number, grade: number, ward: number): PredictorColumn[] =>
  others.map((column, j) =>
    column.type === 'number'
      ? { ...column, values: Float64Array.of([level, dose][j]) }
      : { ...column, codes: Int32Array.of([grade, ward][j - 2]) },
  );
const valueAt = (column: PredictorColumn, i: number) =>
  column.type === 'number' ? column.values[i] : column.codes[i];
const askOf =
  (weights: number[]): Ask =>
  (columns, rowCount) =>
    Float64Array.from({ length: rowCount }, (_, i) =>
      columns.reduce((sum, column, j) => {
        const value = valueAt(column, i);
        return sum + weights[j] * (Number.isNaN(value) || value < 0 ? 0 : value);
      }, 0),
    );

describe('the smallest changes that turn a call', () => {
  it('are the nearest values that others have, one for each predictor that can turn it alone', () => {
    // Called from 12 on: the level must rise from 5 to 9, or the grade from a to d with 3 each.
    const ask = askOf([1, 0, 3, 0]);
    const found = smallestChanges(ask, patientOf(5, 4, 1, 0), others, (said) => said >= 12, all);
    expect(found.map(({ changes }) => changes)).toEqual([
      [{ name: 'level', to: 9 }],
      [{ name: 'grade', to: 3 }],
    ]);
    expect(found.map(({ said }) => said)).toEqual([12, 14]);
    // 12 of 60 patients lie from 5 to below 9; two of three steps.
    expect(found[0].distance).toBeCloseTo(0.2, 12);
    expect(found[1].distance).toBeCloseTo(2 / 3, 12);
  });

  it('go the other way for who is called in', () => {
    const ask = askOf([1, 0, 0, 0]);
    const found = smallestChanges(ask, patientOf(15, 4, 1, 0), others, (said) => said >= 12, all);
    expect(found).toHaveLength(1);
    expect(found[0]).toMatchObject({ changes: [{ name: 'level', to: 11 }], said: 11 });
  });

  it('leave alone what is fixed, what is not known, and levels that nobody has', () => {
    const ask = askOf([1, 1, 0, 10]);
    const called = (said: number) => said >= 12;
    const patient = patientOf(5, NaN, 1, 0);
    const without = all.filter((name) => name !== 'level');
    const found = smallestChanges(ask, patient, others, called, without);
    expect(found.map(({ changes }) => changes)).toEqual([[{ name: 'ward', to: 1 }]]);
    expect(smallestChanges(ask, patient, others, called, ['dose'])).toEqual([]);
    expect(smallestChanges(ask, patient, others, called, [])).toEqual([]);
  });

  it('are of two predictors where none turns it alone, and as small as any pair that is tried', () => {
    const ask = askOf([1, 1, 0, 0]);
    // At most 19 and 9.5: together 28.5, from 5 and 2.
    const found = smallestChanges(ask, patientOf(5, 2, 0, 0), others, (said) => said >= 24, all);
    expect(found).toHaveLength(1);
    const [{ changes, said }] = found;
    expect(changes.map(({ name }) => name)).toEqual(['level', 'dose']);
    expect(said).toBeGreaterThanOrEqual(24);
  });

  it('are of three where no two turn it, and none where nothing does', () => {
    const ask = askOf([1, 1, 4, 0]);
    const patient = patientOf(0, 0, 0, 0);
    const found = smallestChanges(ask, patient, others, (said) => said >= 35, all);
    expect(found[0].changes.map(({ name }) => name)).toEqual(['level', 'dose', 'grade']);
    expect(found[0].said).toBeGreaterThanOrEqual(35);
    expect(smallestChanges(ask, patient, others, (said) => said >= 100, all)).toEqual([]);
  });

  it('say what is really said of the changed patient', () => {
    const ask = askOf([0.3, -0.7, 1.1, 2]);
    for (let i = 0; i < count; i += 7) {
      const patient = others.map((column) => takenRows(column, [i]));
      for (const { changes, said } of smallestChanges(
        ask,
        patient,
        others,
        (one) => one >= 3,
        all,
      )) {
        const changed = patient.map((column): PredictorColumn => {
          const to = changes.find(({ name }) => name === column.name)?.to;
          if (to === undefined) return column;
          return column.type === 'number'
            ? { ...column, values: Float64Array.of(to) }
            : { ...column, codes: Int32Array.of(to) };
        });
        expect(ask(changed, 1)[0]).toBe(said);
        expect(said >= 3).not.toBe(ask(patient, 1)[0] >= 3);
      }
    }
  });
});
