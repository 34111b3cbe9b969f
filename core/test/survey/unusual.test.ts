import { describe, expect, it } from 'vitest';
import { randomStream } from '../../src/numeric/index.ts';
import { findUnusual, measured, type Measured } from '../../src/survey/index.ts';

const count = 1500;
const planted = [3, 700, 1402];

/** Three numbers and a ward; three patients have far too much of two of them, or lack the third. */
function madeColumns(): Measured[] {
  const draw = randomStream(21, 'columns');
  const number = () => Float64Array.from({ length: count }, () => 50 + 10 * draw.normal());
  const [creatinine, urea, albumin] = [number(), number(), number()];
  const codes = Int32Array.from({ length: count }, () => Number(draw.uniform() < 0.4));
  for (const row of planted) {
    creatinine[row] = 400 + row / 100;
    urea[row] = 180;
    codes[row] = -1;
  }
  return [
    measured('creatinine', 'number', { type: 'number', values: creatinine }),
    measured('urea', 'number', { type: 'number', values: urea }),
    measured('albumin', 'number', { type: 'number', values: albumin }),
    measured('ward', 'category', { type: 'coded', codes, levels: ['east', 'west'] }),
    measured('note', 'text', { type: 'text', values: Array<null>(count).fill(null) }),
  ];
}
const rows = Int32Array.from({ length: count }, (_, i) => 2 * i + 1);

describe('unusual patients', () => {
  const columns = madeColumns();
  const found = findUnusual(columns, rows, 1)!;

  it('are found without the outcome, by their rows of the cohort, with what makes them so', () => {
    expect(found).toMatchObject({ patients: count, columns: 4, trees: 100, sample: 256 });
    const first = found.listed.slice(0, 3);
    expect(first.map(({ row }) => row).toSorted((a, b) => a - b)).toEqual(
      planted.map((row) => 2 * row + 1),
    );
    for (const { because, isCase } of first) {
      expect(
        because
          .slice(0, 2)
          .map(({ column }) => column)
          .toSorted(),
      ).toEqual(['creatinine', 'urea']);
      const creatinine = because.find(({ column }) => column === 'creatinine')!;
      expect(creatinine.value).toBeGreaterThan(399);
      expect(Math.abs(Number(creatinine.usual) - 50)).toBeLessThan(2);
      expect(isCase).toBeUndefined();
      const falls = because.map(({ fall }) => fall);
      expect(falls).toEqual(falls.toSorted((a, b) => b - a));
    }
    const scores = found.listed.map(({ score }) => score);
    expect(scores).toEqual(scores.toSorted((a, b) => b - a));
    expect(found.cases).toBeUndefined();
  });

  it('are counted by score, everybody once', () => {
    const { all, from, step } = found.scores;
    expect(all.reduce((sum, one) => sum + one, 0)).toBe(count);
    const highest = from + step * all.length;
    expect(found.listed[0].score).toBeLessThan(highest);
    expect(found.listed[0].score).toBeGreaterThanOrEqual(highest - step);
  });

  it('are told apart by rules whose patients, counted by hand, have what is said', () => {
    expect(found.rules.length).toBeGreaterThan(0);
    for (const { conditions, patients } of found.rules) {
      const met = Array.from({ length: count }, (_, i) =>
        conditions.every(({ column, from, below, levels, orNotKnown }) => {
          const { column: own } = columns.find(({ name }) => name === column)!;
          if (own.type === 'coded')
            return own.codes[i] < 0
              ? orNotKnown === true
              : (levels?.includes(own.levels[own.codes[i]]) ?? false);
          const value = own.type === 'number' ? own.values[i] : NaN;
          return value >= (from ?? -Infinity) && value < (below ?? Infinity);
        }),
      );
      expect(met.filter(Boolean).length).toBe(patients);
    }
    expect(found.rules.map(({ mean }) => mean)).toEqual(
      found.rules.map(({ mean }) => mean).toSorted((a, b) => b - a),
    );
  });

  it('are set beside the cases afterwards, which change nothing of the scores', () => {
    const events = Int8Array.from({ length: count }, (_, i) =>
      planted.includes(i) ? 1 : i % 10 === 0 ? -1 : Number(i % 3 === 0),
    );
    const with_ = findUnusual(columns, rows, 1, events)!;
    expect(with_.listed.map(({ row, score }) => [row, score])).toEqual(
      found.listed.map(({ row, score }) => [row, score]),
    );
    expect(with_.listed.slice(0, 3).map(({ isCase }) => isCase)).toEqual([true, true, true]);
    const { known, cases, top } = with_.cases!;
    expect(known).toBe(events.filter((one) => one >= 0).length);
    expect(cases).toBe(events.filter((one) => one === 1).length);
    expect(top.known).toBe(Math.ceil(known / 20));
    expect(top.cases).toBeGreaterThanOrEqual(3);
    expect(with_.scores.cases!.reduce((sum, one) => sum + one, 0)).toBe(cases);
  });

  it('are not looked for in one patient, or in text alone', () => {
    expect(findUnusual(columns, [0], 1)).toBeUndefined();
    expect(findUnusual(columns.slice(4), rows, 1)).toBeUndefined();
  });
});
