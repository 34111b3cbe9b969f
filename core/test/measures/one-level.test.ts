import { describe, expect, it } from 'vitest';
import { costPresets, levelReferenceCost, oneLevelForAll } from '../../src/measures/index.ts';

describe('one level for all', () => {
  it('is the commonest where every error costs the same, and the middle where distance counts', () => {
    const have = [50, 10, 40];
    expect(oneLevelForAll(have, costPresets.equal(3))).toEqual({ place: 0, costPerThousand: 500 });
    // 10 + 80, 50 + 40, 100 + 10: of equal ones the earlier level.
    expect(oneLevelForAll(have, costPresets.distance(3))).toEqual({
      place: 0,
      costPerThousand: 900,
    });
    // 10 + 160, 50 + 40, 200 + 10.
    expect(oneLevelForAll(have, costPresets['squared distance'](3))).toEqual({
      place: 1,
      costPerThousand: 900,
    });
  });

  it('is the cheapest of its own costs, whatever is common', () => {
    const costs = [
      [0, 1],
      [99, 0],
    ];
    expect(oneLevelForAll([95, 5], costs)).toEqual({ place: 1, costPerThousand: 950 });
    const table = {
      levels: ['none', 'severe'],
      counts: [
        [90, 5],
        [3, 2],
      ],
    };
    expect(levelReferenceCost(table, costs)).toBe(950);
    expect(oneLevelForAll([0, 0], costs).costPerThousand).toBe(0);
  });
});
