import { describe, expect, it } from 'vitest';
import { whoWasWrong } from '../../src/comparing/index.ts';
import { tableFromText } from '../../src/table/index.ts';

/** Twelve patients: cases are found by their age, and missed where they are young. */
const rows = [
  ...[70, 72, 74, 76, 78].map((age) => [age, 'yes', 'm', 0.9]),
  ...[30, 32, 34, 36, 38].map((age) => [age, 'yes', 'f', 0.2]),
  ...[50, 52].map((age) => [age, 'no', 'f', 0.6]),
  ...[50, 51, 52].map((age) => [age, 'no', 'm', 0.1]),
] as [number, string, string, number][];
const { dictionary } = tableFromText(
  ['age', 'ill', 'sex'],
  rows.map(([age, ill, sex]) => [String(age), ill, sex]),
);
const table = tableFromText(
  ['age', 'ill', 'sex'],
  rows.map(([age, ill, sex]) => [String(age), ill, sex]),
  dictionary,
);
const task = {
  table,
  names: ['age', 'sex'],
  rows: Int32Array.from(rows.keys()),
  events: Uint8Array.from(rows, ([, ill]) => Number(ill === 'yes')),
  scores: Float64Array.from(rows, ([, , , score]) => score),
  cutoff: 0.5,
};

describe('who was wrong', () => {
  it('lists missed cases and false alarms, those farthest from the cutoff first', () => {
    const { missed, falseAlarms, patients } = whoWasWrong(task);
    expect([missed, falseAlarms]).toEqual([5, 2]);
    expect(patients.map(({ row }) => row)).toEqual([5, 6, 7, 8, 9, 10, 11]);
    expect(patients[0]).toEqual({ row: 5, isCase: true, score: 0.2 });
    expect(patients.at(-1)).toEqual({ row: 11, isCase: false, score: 0.6 });
  });

  it('says what sets them apart from the rightly called, where there are enough', () => {
    const { apart } = whoWasWrong(task);
    expect(apart.missed.map(({ column }) => column).toSorted()).toEqual(['age', 'sex']);
    const age = apart.missed.find(({ column }) => column === 'age')!;
    expect(age.of.map(({ mean }) => mean)).toEqual([34, 74]);
    // Two false alarms tell nothing.
    expect(apart.falseAlarms).toEqual([]);
  });

  it('follows the cutoff, and is about these rows alone', () => {
    const strict = whoWasWrong({ ...task, cutoff: 0.95 });
    expect([strict.missed, strict.falseAlarms]).toEqual([10, 0]);
    const few = whoWasWrong({
      ...task,
      rows: Int32Array.of(0, 5),
      events: Uint8Array.of(1, 1),
      scores: Float64Array.of(0.9, 0.2),
    });
    expect(few.patients.map(({ row }) => row)).toEqual([5]);
    expect(few.apart).toEqual({ missed: [], falseAlarms: [] });
  });
});
