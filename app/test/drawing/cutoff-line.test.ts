import { describe, expect, it } from 'vitest';
import { cutoffLine, type Grid } from '../../src/islands/facets/regions/cutoff-line.ts';

const both = { across: true, up: true };

/** Scores in the middles of cells. */
const gridOf = (
  wide: number,
  high: number,
  score: (x: number, y: number) => number,
  between = both,
): Grid => ({
  wide,
  high,
  between,
  scores: Float64Array.from({ length: wide * high }, (_, i) =>
    score((i % wide) + 0.5, Math.floor(i / wide) + 0.5),
  ),
});

const endsOf = (edges: ReturnType<typeof cutoffLine>) =>
  edges.flatMap(([x1, y1, x2, y2]) => [
    [x1, y1],
    [x2, y2],
  ]);

/** Ends that meet no other: those of the line as a whole. */
function looseEnds(edges: ReturnType<typeof cutoffLine>): number[][] {
  const met = new Map<string, number[][]>();
  for (const end of endsOf(edges)) {
    const key = end.map((value) => value.toFixed(6)).join(' ');
    met.set(key, [...(met.get(key) ?? []), end]);
  }
  return [...met.values()].flatMap((ends) => (ends.length % 2 ? [ends[0]] : []));
}

describe('the line of a cutoff', () => {
  it('is the straight line of a plane, from edge to edge', () => {
    const edges = cutoffLine(
      gridOf(16, 16, (x, y) => 2 * x + 3 * y),
      41,
    );
    expect(edges.length).toBeGreaterThan(20);
    for (const [x, y] of endsOf(edges)) expect(2 * x + 3 * y).toBeCloseTo(41, 9);
    const ends = looseEnds(edges);
    expect(ends).toHaveLength(2);
    for (const end of ends) expect(end.some((at) => at === 0 || at === 16)).toBe(true);
  });

  it('goes around a hill', () => {
    const edges = cutoffLine(
      gridOf(60, 40, (x, y) => Math.exp(-((x - 30) ** 2 + (y - 20) ** 2) / 100)),
      Math.exp(-1),
    );
    for (const [x, y] of endsOf(edges)) expect(Math.hypot(x - 30, y - 20)).toBeCloseTo(10, 1);
    expect(looseEnds(edges)).toEqual([]);
  });

  it('joins at a saddle what the middle of the square joins', () => {
    // Called in along one diagonal; the mean of the square is called in as well.
    const joined = cutoffLine(
      gridOf(2, 2, (x, y) => (x === y ? 0.9 : 0.2)),
      0.5,
    );
    const cut = cutoffLine(
      gridOf(2, 2, (x, y) => (x === y ? 0.8 : 0.1)),
      0.5,
    );
    const across = ([x1, y1, x2, y2]: number[]) => (x2 - x1) * (y2 - y1) > 0;
    const middle = (edges: ReturnType<typeof cutoffLine>) =>
      edges.filter((edge) => edge.every((at) => at >= 0.5 && at <= 1.5));
    expect(middle(joined).map(across)).toEqual([true, true]);
    expect(middle(cut).map(across)).toEqual([false, false]);
  });

  it('keeps to the cells where predictions change in steps', () => {
    const edges = cutoffLine(
      gridOf(6, 4, (x, y) => (x > 2 && y > 1 ? 0.8 : 0.1)),
      0.5,
    );
    expect(edges).toHaveLength(4 + 3);
    expect(edges).toContainEqual([2, 1, 2, 2]);
    expect(edges).toContainEqual([5, 1, 6, 1]);
    for (const [x1, y1, x2, y2] of edges) expect(x1 === x2 || y1 === y2).toBe(true);
  });

  it('is exact along a number beside levels', () => {
    // The cutoff stands at 3.2 for the first level and at 7.7 for the second.
    const score = (x: number, y: number) => x - (y < 1 ? 3.2 : 7.7);
    const across = cutoffLine(gridOf(10, 2, score, { across: true, up: false }), 0);
    const up = cutoffLine(
      gridOf(2, 10, (x, y) => score(y, x), { across: false, up: true }),
      0,
    );
    for (const edges of [across, up.map(([x1, y1, x2, y2]) => [y1, x1, y2, x2])]) {
      const upright = edges.filter(([x1, , x2]) => x1 === x2);
      expect(upright).toHaveLength(2);
      for (const [x, y1, , y2] of upright)
        expect(Math.abs(x - (Math.min(y1, y2) < 1 ? 3.2 : 7.7))).toBeLessThan(1 / 32);
      const along = edges.filter(([, y1, , y2]) => y1 === y2);
      expect(along.reduce((sum, [x1, , x2]) => sum + x2 - x1, 0)).toBeCloseTo(4.5, 1);
    }
  });

  it('is not there where all are on one side', () => {
    expect(
      cutoffLine(
        gridOf(5, 5, (x) => x / 10),
        0.9,
      ),
    ).toEqual([]);
    expect(
      cutoffLine(
        gridOf(5, 5, () => 0.5),
        0.5,
      ),
    ).toEqual([]);
  });
});
