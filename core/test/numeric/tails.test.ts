import { describe, expect, it } from 'vitest';
import {
  chiSquareUpperTail,
  fUpperTail,
  maximiseOne,
  symmetricEigen,
  tQuantile,
  twoSidedTP,
} from '../../src/numeric/index.ts';
import { loadValues } from '../reference/load.ts';

const relative = (found: number, expected: number) => Math.abs(found / expected - 1);

describe('tails of test statistics beside an independent library', () => {
  // mpmath 1.2.1 and scipy 1.10.1; relative 1e-10, quantiles 1e-9.
  const values = loadValues<{
    chi2_sf: { x: number; df: number; sf: number }[];
    t_two_sided: { t: number; df: number; p: number }[];
    f_sf: { f: number; df1: number; df2: number; sf: number }[];
    t_quantile: { p: number; df: number; q: number }[];
  }>('test_distributions');

  it.each(values.chi2_sf)('chi-square $x on $df', ({ x, df, sf }) => {
    expect(relative(chiSquareUpperTail(x, df), sf)).toBeLessThan(1e-10);
  });
  it.each(values.t_two_sided)('t $t on $df', ({ t, df, p }) => {
    expect(relative(twoSidedTP(t, df), p)).toBeLessThan(1e-10);
    expect(twoSidedTP(-t, df)).toBe(twoSidedTP(t, df));
  });
  it.each(values.f_sf)('F $f on $df1 and $df2', ({ f, df1, df2, sf }) => {
    expect(relative(fUpperTail(f, df1, df2), sf)).toBeLessThan(1e-10);
  });
  it.each(values.t_quantile)('t quantile $p on $df', ({ p, df, q }) => {
    expect(relative(tQuantile(1 - p, df), q)).toBeLessThan(1e-9);
  });

  it('ends of the range', () => {
    expect(chiSquareUpperTail(0, 3)).toBe(1);
    expect(fUpperTail(0, 2, 5)).toBe(1);
    expect(twoSidedTP(Infinity, 5)).toBe(0);
  });
});

describe('symmetric eigenvalues', () => {
  it('of a 2 × 2 matrix by hand: 3 and 1, along the diagonals', () => {
    const { values, vectors } = symmetricEigen(Float64Array.of(2, 1, 1, 2), 2);
    expect(values[0]).toBeCloseTo(3, 12);
    expect(values[1]).toBeCloseTo(1, 12);
    expect(Math.abs(vectors[0][0] - vectors[0][1])).toBeLessThan(1e-12);
    expect(Math.abs(vectors[1][0] + vectors[1][1])).toBeLessThan(1e-12);
  });
});

describe('the greatest of a function', () => {
  it('is found inside and at the edge', () => {
    expect(maximiseOne((x) => -((x - 1.25) ** 2), -5, 5)).toBeCloseTo(1.25, 6);
    expect(maximiseOne((x) => x, 0, 2)).toBeCloseTo(2, 6);
  });
});
