import { describe, expect, it } from 'vitest';
import { side, spreadOf } from '../../src/design/index.ts';

const { development, heldOut, sealed, unused } = side;

describe('who is where', () => {
  // Twelve rows: four in fold 0, three in fold 1, two held out, two sealed, one without outcome.
  const sides = Uint8Array.of(
    ...[development, development, development, development],
    ...[heldOut, unused, development, development],
    ...[sealed, sealed, heldOut, development],
  );
  const folds = Uint8Array.of(0, 1, 0, 1, 0, 0, 1);
  const events = Uint8Array.of(1, 0, 0, 1, 1, 1, 0, 1, 0, 1, 0, 0);

  it('counts patients and cases of each part along the rows, and those of no part nowhere', () => {
    const spread = spreadOf({ sides, folds, events }, undefined, 3);
    expect([spread.from, spread.to]).toEqual([1, 12]);
    expect(spread.lanes).toEqual([
      // Rows 1, 3, 7 and 8: the stretches end behind 4.67 and 8.33.
      { side: 'development', fold: 0, patients: [2, 2, 0], events: [1, 1, 0] },
      { side: 'development', fold: 1, patients: [2, 0, 1], events: [1, 0, 0] },
      { side: 'heldOut', patients: [0, 1, 1], events: [0, 1, 0] },
      { side: 'sealed', patients: [0, 0, 2], events: [0, 0, 1] },
    ]);
    const counted = spread.lanes.flatMap(({ patients }) => patients).reduce((a, b) => a + b);
    expect(counted).toBe(11);
  });

  it('goes by a value instead, from the least to the greatest; who has none is not counted', () => {
    const days = Float64Array.of(20, 10, NaN, 30, 15, 99, 10, 20, 30, 30, 10, NaN);
    const { lanes, from, to } = spreadOf({ sides, folds, events }, days, 2);
    // Day 99 is that of the row that stands in no part.
    expect([from, to]).toEqual([10, 30]);
    expect(lanes.map(({ patients }) => patients)).toEqual([
      [1, 2],
      [1, 1],
      [2, 0],
      [0, 2],
    ]);
  });

  it('has one stretch of all where the value is the same for all', () => {
    const { lanes } = spreadOf({ sides, folds, events }, new Float64Array(12).fill(7), 4);
    expect(lanes.map(({ patients }) => patients[0])).toEqual([4, 3, 2, 2]);
  });
});
