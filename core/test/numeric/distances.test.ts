import { describe, expect, it } from 'vitest';
import { distanceRoom, randomStream, type PointTable } from '../../src/numeric/index.ts';

const draw = randomStream(13, 'distances');

function tableOf(count: number, columns: number, by: PointTable['by'], gaps = false): PointTable {
  const value = () => (gaps && draw.uniform() < 0.3 ? NaN : draw.normal());
  return {
    count,
    columns,
    by,
    gaps,
    values: Float64Array.from({ length: count * columns }, value),
    // From the last to the first, so that places are not rows.
    order: Int32Array.from({ length: count }, (_, i) => count - 1 - i),
    shares: new Float64Array(columns).fill(1),
  };
}

/** Of each row what a point is away, over the columns that both know as if over all. */
function awayFrom({ count, columns, values, by }: PointTable, point: Float32Array): number[] {
  return Array.from({ length: count }, (_, row) => {
    let [sum, both] = [0, 0];
    for (let j = 0; j < columns; j++) {
      const difference = point[j] - values[row * columns + j];
      if (Number.isNaN(difference)) continue;
      both++;
      sum += by === 'squares' ? difference ** 2 : Math.abs(difference);
    }
    return both === 0 ? Infinity : (sum * columns) / both;
  });
}

describe('a room of distances', () => {
  it.each(
    (['squares', 'absolutes'] as const).flatMap((by) => [
      { by, columns: 4, gaps: false },
      { by, columns: 17, gaps: false },
      { by, columns: 6, gaps: true },
    ]),
  )(
    'by $by of $columns columns, gaps $gaps: writes all within the limit, and nobody else',
    (one) => {
      const table = tableOf(1000, one.columns, one.by, one.gaps);
      const room = distanceRoom(table)!;
      const known = Int32Array.from({ length: one.columns }, (_, j) => j);
      for (let k = 0; k < 10; k++) {
        room.point.set(Float32Array.from({ length: one.columns }, () => draw.normal()));
        const away = awayFrom(table, room.point);
        const limit = away.toSorted((a, b) => a - b)[50] * 1.0001;
        room.found = 0;
        expect(room.scan(0, room.blocks, limit, known, 0.5)).toBe(room.blocks);
        const rows = [...room.places.subarray(0, room.found)].map((place) => table.order[place]);
        expect(rows.toSorted((a, b) => a - b)).toEqual(
          [...away.keys()].filter((row) => away[row] <= limit),
        );
        rows.forEach((row, i) => expect(room.distances[i] / away[row]).toBeCloseTo(1, 4));
      }
    },
  );

  it('stops where it is full, and goes on from there', () => {
    const table = tableOf(9000, 2, 'squares');
    const room = distanceRoom(table)!;
    const known = Int32Array.of(0, 1);
    const seen = new Set<number>();
    for (let at = 0; at < room.blocks;) {
      room.found = 0;
      at = room.scan(at, Math.min(room.blocks, at + 40), Infinity, known, 0);
      for (const place of room.places.subarray(0, room.found)) seen.add(place);
    }
    expect(seen.size).toBe(9000);
  });

  it('says which block a point stands in or nearest to', () => {
    const count = 320;
    const table: PointTable = {
      ...tableOf(count, 1, 'absolutes'),
      values: Float64Array.from({ length: count }, (_, i) => i),
      order: Int32Array.from({ length: count }, (_, i) => i),
    };
    const room = distanceRoom(table)!;
    for (const [value, block] of [
      [-5, 0],
      [40, 1],
      [319, 9],
      [1e6, 9],
    ]) {
      room.point[0] = value;
      expect(room.nearestBlock()).toBe(block);
    }
  });

  it('is none without columns', () => {
    expect(distanceRoom(tableOf(5, 0, 'squares'))).toBeUndefined();
  });
});
