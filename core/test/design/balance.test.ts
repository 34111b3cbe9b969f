import { describe, expect, it } from 'vitest';
import { balanceOf, side } from '../../src/design/index.ts';
import { tableFromText } from '../../src/table/index.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';

interface Values {
  results: {
    column: string;
    kind: 'number' | 'yes/no' | 'category';
    n: [number, number];
    means_0_1?: [number, number];
    sd_0_1?: [number, number];
    shares_0?: number[];
    standardised_difference: number;
  }[];
}

describe('standardised differences', () => {
  it('are those of a general-purpose library, of numbers, yes/no and several levels', () => {
    const { results } = loadValues<Values>('standardised_difference_birthwt');
    const table = loadTable('birthwt', (dictionary) => {
      for (const { column, kind } of results)
        dictionary.find(({ name }) => name === column)!.kind = kind;
    });
    // Smokers stand for the held-out side.
    const sides = Uint8Array.from(numbers(table, 'smoke'));
    for (const expected of results) {
      const [found] = balanceOf(table, [expected.column], sides);
      expect(found.difference).toBeCloseTo(expected.standardised_difference, 9);
      expect([found.development.known, found.heldOut.known]).toEqual(expected.n);
      if (expected.means_0_1) {
        expect(found.development.mean).toBeCloseTo(expected.means_0_1[0], 9);
        expect(found.heldOut.sd).toBeCloseTo(expected.sd_0_1![1], 9);
      }
    }
  });

  const rows = [
    ['1', 'a', 'x'],
    ['2', 'a', 'x'],
    ['', 'a', 'x'],
    ['1', 'b', 'x'],
    ['2', 'b', 'x'],
    ['3', '', 'x'],
  ];
  const table = tableFromText(['number', 'level', 'same'], rows);
  const { development, heldOut, unused } = side;
  const sides = Uint8Array.from([development, development, development, heldOut, heldOut, unused]);

  it('count each side by itself, and leave gaps and those on no side out', () => {
    const [number] = balanceOf(table, ['number'], sides);
    expect(number.development).toEqual({ patients: 3, known: 2, mean: 1.5, sd: Math.SQRT1_2 });
    expect(number.heldOut).toEqual({ patients: 2, known: 2, mean: 1.5, sd: Math.SQRT1_2 });
    expect(number.difference).toBe(0);
  });

  it('have no value where sides share no level, or nothing varies', () => {
    const [level, same] = balanceOf(table, ['level', 'same'], sides);
    expect(level.development.counts).toEqual([3, 0]);
    expect(level.difference).toBeUndefined();
    expect(same.difference).toBeUndefined();
  });
});
