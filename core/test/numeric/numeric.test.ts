import { describe, expect, it } from 'vitest';
import {
  factorise,
  invert,
  logistic,
  normalQuantile,
  normalUpperTail,
  orderingNumbers,
  orderStatistics,
  quantile,
  quantiles,
  randomStream,
  solve,
  sortedQuantile,
  twoSidedNormalP,
  z95,
} from '../../src/numeric/index.ts';
import { loadValues } from '../reference/load.ts';

describe('normal distribution', () => {
  it.each([
    // Abramowitz & Stegun (1964), Handbook of Mathematical Functions, table 26.1: upper tails.
    [1, 0.1586552539],
    [2, 0.0227501319],
    [3, 0.001349898],
    [4, 0.0000316712],
  ])('upper tail at %f', (z, expected) => {
    expect(normalUpperTail(z)).toBeCloseTo(expected, 9);
    expect(twoSidedNormalP(-z)).toBeCloseTo(2 * expected, 9);
  });

  it('keeps its digits in the far tail and inverts itself', () => {
    // From memory: P(Z > 10) = 7.619853024160527e-24.
    expect(Math.abs(normalUpperTail(10) / 7.619853024160527e-24 - 1)).toBeLessThan(1e-12);
    expect(normalQuantile(0.975)).toBeCloseTo(z95, 14);
  });
});

describe('normal distribution beside an independent library', () => {
  // mpmath 1.2.1 and scipy 1.10.1; relative 1e-10, quantiles 1e-9.
  const values = loadValues<{
    normal_cdf: { x: number; cdf: number; sf: number }[];
    normal_quantile: { p: number; q: number }[];
  }>('normal_distribution');

  it.each(values.normal_cdf)('tails at $x', ({ x, cdf, sf }) => {
    expect(normalUpperTail(x) / sf).toBeCloseTo(1, 10);
    expect(normalUpperTail(-x) / cdf).toBeCloseTo(1, 10);
  });

  it.each(values.normal_quantile)('quantile at $p', ({ p, q }) => {
    expect(normalQuantile(p)).toBeCloseTo(q, 9);
  });
});

describe('positive definite systems', () => {
  it('undo a random matrix of any size: A⁻¹A is the unit matrix', () => {
    const draw = randomStream(2, 'matrices');
    for (const size of [1, 2, 5, 12, 30]) {
      const root = Array.from({ length: size }, () =>
        Array.from({ length: size + 3 }, () => draw.normal()),
      );
      const matrix = Float64Array.from({ length: size * size }, (_, at) => {
        const [a, b] = [root[Math.floor(at / size)], root[at % size]];
        return a.reduce((sum, value, i) => sum + value * b[i], 0);
      });
      const inverse = invert(factorise(matrix, size));
      for (let i = 0; i < size; i++)
        for (let j = 0; j < size; j++) {
          let product = 0;
          for (let k = 0; k < size; k++) product += inverse[i * size + k] * matrix[k * size + j];
          expect(product).toBeCloseTo(i === j ? 1 : 0, 8);
        }
    }
  });

  it('solve and invert a matrix by hand', () => {
    const factor = factorise(Float64Array.of(4, 2, 2, 3), 2);
    expect(solve(factor, [10, 8])[0]).toBeCloseTo(1.75, 14);
    expect(solve(factor, [10, 8])[1]).toBeCloseTo(1.5, 14);
    expect(Array.from(invert(factor), (x) => Number(x.toFixed(12)))).toEqual([
      0.375, -0.25, -0.25, 0.5,
    ]);
  });

  it('leave out a row that repeats another', () => {
    const factor = factorise(Float64Array.of(1, 2, 0, 2, 4, 0, 0, 0, 9), 3);
    expect(factor.kept).toEqual([true, false, true]);
    expect(Array.from(solve(factor, [3, 6, 18]))).toEqual([3, 0, 2]);
  });
});

describe('random streams', () => {
  it('are reproducible by seed and name, and differ by either', () => {
    const draw = (seed: number, name: string) => {
      const stream = randomStream(seed, name);
      return [stream.uniform(), stream.normal(), stream.uniform()];
    };
    expect(draw(1, 'fold')).toEqual(draw(1, 'fold'));
    expect(draw(1, 'fold')).not.toEqual(draw(2, 'fold'));
    expect(draw(1, 'fold')).not.toEqual(draw(1, 'bootstrap'));
  });

  it('have the moments of their distributions', () => {
    const stream = randomStream(5, 'moments');
    const n = 40_000;
    const normals = Array.from({ length: n }, () => stream.normal());
    const mean = normals.reduce((a, b) => a + b, 0) / n;
    const variance = normals.reduce((a, b) => a + (b - mean) ** 2, 0) / n;
    expect(Math.abs(mean)).toBeLessThan(4 / Math.sqrt(n));
    expect(Math.abs(variance - 1)).toBeLessThan(4 * Math.sqrt(2 / n));
  });

  it('order patients by SHA-256 alone', () => {
    // First 53 bits of the digest of "1|s|k" over 2^53, from a general-purpose library's SHA-256 (FIPS 180-4).
    const order = orderingNumbers(1, 's');
    expect(order('k')).toBe(5787421217613430 / 2 ** 53);
    // Neither a key longer than any before nor one beyond ASCII leaves a trace in the next.
    order('é'.repeat(1000));
    expect(order('k')).toBe(5787421217613430 / 2 ** 53);
  });
});

describe('inverse logit', () => {
  it('does not overflow', () => {
    expect([logistic(-1000), logistic(0), logistic(1000)]).toEqual([0, 0.5, 1]);
  });
});

describe('the value of a rank', () => {
  it.each([1, 2, 3, 10, 101, 5000, 40_000])(
    'of %i values is that of the sorted ones, ties and all',
    (count) => {
      const draw = randomStream(count, 'ranks');
      for (const digits of [0, 1, 9]) {
        const values = Float64Array.from({ length: count }, () =>
          Number((10 * draw.normal()).toFixed(digits)),
        );
        const sorted = values.slice().sort();
        for (const share of [0, 0.1, 0.25, 0.5, 0.77, 1]) {
          const k = Math.floor((count - 1) * share);
          expect(orderStatistics(values).at(k)).toBe(sorted[k]);
          expect(quantile(values, share)).toBe(sortedQuantile(sorted, share));
        }
      }
    },
  );

  it('passes over gaps, and is nothing of nothing', () => {
    expect(quantile([3, NaN, 1], 0.5)).toBe(2);
    expect(quantile([NaN], 0.5)).toBeNaN();
    expect(quantile(new Float64Array(10_000).fill(NaN), 0.5)).toBeNaN();
  });

  it('is the same of many values with gaps, of both signs and all sizes, and of none that is finite', () => {
    const draw = randomStream(3, 'sizes');
    const values = Float64Array.from({ length: 20_000 }, (_, i) =>
      i % 9 === 0 ? NaN : draw.normal() * 10 ** Math.floor(600 * draw.uniform() - 300),
    );
    values.set([Infinity, -Infinity, 0, 0, 5e-324, -5e-324], 10);
    const sorted = values.filter((value) => !Number.isNaN(value)).sort();
    const { count, at } = orderStatistics(values);
    expect(count).toBe(sorted.length);
    for (let rank = 0; rank < count; rank += 97) expect(at(rank)).toBe(sorted[rank]);
    expect([at(0), at(count - 1)]).toEqual([-Infinity, Infinity]);
    expect(quantiles(values, [0.02, 0.5, 0.98])).toEqual(
      [0.02, 0.5, 0.98].map((share) => sortedQuantile(sorted, share)),
    );
  });
});
