import { describe, expect, it } from 'vitest';
import {
  ascendingOrder,
  gradesFrom,
  gradesOf,
  randomStream,
  sharedCounts,
  sortedGrades,
  sortedPresent,
} from '../../src/numeric/index.ts';

const draw = randomStream(11, 'grades');
const many = (count: number, value: (i: number) => number) =>
  Float64Array.from({ length: count }, (_, i) => (i % 17 === 3 ? NaN : value(i)));

/** The engine's own sort is what every list is held against. */
const inOrder = (numbers: Float64Array) => numbers.filter((value) => !Number.isNaN(value)).sort();

const lists: [string, Float64Array][] = [
  ['a few values', Float64Array.of(3, NaN, -1, 3, 0, -0, 2.5)],
  ['nothing', new Float64Array()],
  ['nothing known', Float64Array.of(NaN, NaN)],
  ['many rows of few values', many(20_000, (i) => ((i * 7919) % 1000) / 10 - 50)],
  ['more values than the table holds', many(40_000, () => draw.normal())],
  [
    'the ends of what a number can be',
    many(4000, (i) => [1e308, -1e308, 5e-324, -5e-324, Infinity, -Infinity, 1 / 3][i % 7]),
  ],
  ['whole numbers in falling order', many(30_000, (i) => 30_000 - i)],
];

describe('grades', () => {
  it.each(lists)(
    'of %s are the different values in order, and where each row stands',
    (_, numbers) => {
      const { values, codes, counts, unknown } = gradesOf(numbers);
      const sorted = inOrder(numbers);
      expect([...values]).toEqual([...new Set(sorted)]);
      numbers.forEach((value, row) => {
        if (Number.isNaN(value)) expect(codes[row]).toBe(-1);
        else if (values[codes[row]] !== value) throw new Error(`Row ${row} stands elsewhere.`);
      });
      expect([...unknown]).toEqual([...numbers.keys()].filter((row) => Number.isNaN(numbers[row])));
      expect(counts.reduce((sum, count) => sum + count, 0) + unknown.length).toBe(numbers.length);
      expect(sortedGrades({ values, codes, counts, unknown })).toEqual(
        sorted.map((value) => value + 0),
      );
      expect(sortedPresent(numbers).map((value) => value + 0)).toEqual(
        sorted.map((value) => value + 0),
      );
    },
  );

  it.each(lists)('the order of %s is ascending, ties in the order of rows', (_, numbers) => {
    const order = ascendingOrder(numbers);
    const expected = [...numbers.keys()]
      .filter((row) => !Number.isNaN(numbers[row]))
      .sort((a, b) => (numbers[a] === numbers[b] ? a - b : numbers[a] < numbers[b] ? -1 : 1));
    expect([...order]).toEqual(expected);
  });

  it('counts the rows that two columns share', () => {
    const values = Float64Array.of(0, 1);
    const a = gradesFrom(values, Int32Array.of(0, 1, -1, 1, 0));
    const b = gradesFrom(values, Int32Array.of(-1, 1, 0, -1, 0));
    expect([...sharedCounts(a, b)]).toEqual([1, 1]);
    expect([...sharedCounts(b, a)]).toEqual([1, 1]);
  });
});
