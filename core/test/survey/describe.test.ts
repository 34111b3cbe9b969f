import { describe, expect, it } from 'vitest';
import {
  boxCox,
  boxCoxLambda,
  randomStream,
  yeoJohnson,
  yeoJohnsonLambda,
} from '../../src/numeric/index.ts';
import {
  densityOf,
  describeColumn,
  describeNumbers,
  findGaps,
  histogramOf,
  momentsOf,
  normalQuantilePlot,
  sharesAlong,
  viewNumber,
  viewReshapings,
} from '../../src/survey/index.ts';
import type { Column } from '../../src/table/index.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';
import { completeUrine } from './urine.ts';

const relative = (found: number, expected: number) => Math.abs(found / expected - 1);
const draw = randomStream(3, 'describe test');
const normals = (count: number, mean = 0, sd = 1) =>
  Float64Array.from({ length: count }, () => mean + sd * draw.normal());
const sorted = (...values: number[]) => Float64Array.from(values).sort();

describe('moments', () => {
  // NIST Statistical Reference Datasets, univariate: NumAcc1 to NumAcc4, certified values; the data
  // and values stand here from memory.
  const alternating = (base: number) => [
    base + 0.2,
    ...Array.from({ length: 1000 }, (_, i) => base + (i % 2 === 0 ? 0.1 : 0.3)),
  ];
  it.each([
    ['NumAcc1', [10_000_001, 10_000_003, 10_000_002], 10_000_002, 1],
    ['NumAcc2', alternating(1), 1.2, 0.1],
    ['NumAcc3', alternating(1_000_000), 1_000_000.2, 0.1],
    ['NumAcc4', alternating(10_000_000), 10_000_000.2, 0.1],
  ])('%s', (_, values, mean, sd) => {
    const found = momentsOf(values);
    expect(relative(found.mean, mean)).toBeLessThan(1e-14);
    // The data of NumAcc4 hold only eight digits after the point as doubles.
    expect(relative(found.sd, sd)).toBeLessThan(1e-8);
  });

  it('skewness of every urine column, beside an independent library (relative 1e-9)', () => {
    const { skewness_type2: expected } = loadValues<{ skewness_type2: Record<string, number> }>(
      'survey_urine_birthwt',
    );
    const urine = completeUrine();
    for (const [name, skewness] of Object.entries(expected))
      expect(relative(momentsOf(urine(name)).skewness!, skewness), name).toBeLessThan(1e-9);
  });

  it('has no skewness for two values or none that vary', () => {
    expect(momentsOf([1, 2]).skewness).toBeUndefined();
    expect(momentsOf([4, 4, 4, 4]).skewness).toBeUndefined();
    expect(momentsOf([5])).toEqual({ mean: 5, sd: 0 });
  });
});

describe('a number described', () => {
  it('names the values outside the fences', () => {
    // Quartiles of 1 to 9 are 3 and 7: fences at -3 and 13.
    const found = describeNumbers([1, 2, 3, 4, 5, 6, 7, 8, 9])!;
    expect(found.fences).toEqual({ lower: -3, upper: 13 });
    expect(found.outliers).toBe(0);
    expect(describeNumbers([1, 2, 3, 4, 5, 6, 7, 8, 90, NaN])!.outliers).toBe(1);
    expect(found.different).toBe(9);
  });

  it('has nothing to say of a column without values', () => {
    expect(describeNumbers([NaN, NaN])).toBeUndefined();
    expect(viewNumber(Float64Array.of(NaN))).toBeUndefined();
    const column: Column = { type: 'number', values: Float64Array.of(NaN, NaN) };
    expect(describeColumn({ name: 'x', kind: 'number', column })).toEqual({
      name: 'x',
      missing: 2,
      different: 0,
      numbers: undefined,
    });
  });

  it('counts levels in use and different texts', () => {
    const coded: Column = {
      type: 'coded',
      codes: Int32Array.of(0, 2, -1, 2),
      levels: ['a', 'b', 'c'],
    };
    expect(describeColumn({ name: 'x', kind: 'category', column: coded })).toEqual({
      name: 'x',
      missing: 1,
      different: 2,
      counts: [1, 0, 2],
    });
    const text: Column = { type: 'text', values: ['u', null, 'u', 'v'] };
    expect(describeColumn({ name: 'x', kind: 'text', column: text })).toEqual({
      name: 'x',
      missing: 1,
      different: 2,
    });
  });
});

describe('histogram', () => {
  it('begins at round numbers, keeps every value, and follows the wish', () => {
    const values = normals(5000, 140, 12).sort();
    for (const bins of [undefined, 5, 12, 30, 80]) {
      const found = histogramOf(values, bins);
      expect(found.counts.reduce((sum, count) => sum + count, 0)).toBe(5000);
      expect(
        Math.abs(found.start / found.width - Math.round(found.start / found.width)),
      ).toBeLessThan(1e-9);
      if (bins) expect(found.counts.length).toBeGreaterThan(bins / 2.2);
      if (bins) expect(found.counts.length).toBeLessThan(bins * 2.2);
    }
  });

  it('puts a value on an edge into the bin that begins there', () => {
    // 0.3 is not 3 × 0.1 in doubles; it still belongs to the bin from 0.3.
    const found = histogramOf(sorted(0, 0.1, 0.2, 0.3, 0.4, 0.5), 5);
    expect(found).toMatchObject({ width: 0.1, counts: [1, 1, 1, 1, 1, 1] });
    // Coarser than the values come in, the last bin holds its end too.
    expect(histogramOf(sorted(0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10), 2).counts).toEqual([5, 6]);
  });

  it('keeps to multiples of the step that the values come in, so that no bin holds more of them', () => {
    const whole = Float64Array.from({ length: 3000 }, (_, i) => 20 + (i % 75)).sort();
    for (const bins of [undefined, 20, 30, 31, 37, 60]) {
      const { width, counts } = histogramOf(whole, bins);
      expect(Number.isInteger(width)).toBe(true);
      expect(new Set(counts.slice(0, -2)).size).toBe(1);
    }
    const tenths = Float64Array.from({ length: 900 }, (_, i) => Math.round(30 + (i % 90)) / 10);
    expect(histogramOf(tenths.sort(), 36).width).toBe(0.2);
  });

  it('gives whole numbers whole bins, and one value one bin', () => {
    expect(histogramOf(sorted(1, 1, 2, 3, 4), 40)).toEqual({
      start: 1,
      width: 1,
      counts: [2, 1, 1, 1],
    });
    expect(histogramOf(sorted(7, 7)).counts).toEqual([2]);
  });
});

describe('density', () => {
  it('is what the sum of kernels gives without a grid, and covers one', () => {
    const values = normals(400, 10, 2).sort();
    const { start, step, heights, bandwidth } = densityOf(values)!;
    const direct = (at: number) =>
      values.reduce((sum, x) => sum + Math.exp(-0.5 * ((at - x) / bandwidth) ** 2), 0) /
      (values.length * bandwidth * Math.sqrt(2 * Math.PI));
    const peak = Math.max(...heights);
    heights.forEach((height, i) =>
      expect(Math.abs(height - direct(start + i * step))).toBeLessThan(2e-3 * peak),
    );
    expect(heights.reduce((sum, height) => sum + height * step, 0)).toBeCloseTo(1, 2);
  });

  it('uses the bandwidth of Silverman (1986): 0.9·min(SD, IQR/1.34)·n^(-1/5), by hand', () => {
    // 1 to 9: SD 2.7386, IQR 4, so 4/1.34 = 2.985 is the greater; 0.9 · 2.7386 · 9^(-0.2) = 1.5883.
    expect(densityOf(sorted(1, 2, 3, 4, 5, 6, 7, 8, 9))!.bandwidth).toBeCloseTo(1.5883, 4);
  });

  it('is absent where nothing varies', () => {
    expect(densityOf(sorted(2, 2, 2))).toBeUndefined();
    expect(densityOf(sorted(2))).toBeUndefined();
  });
});

describe('shares along a number', () => {
  it('add up to one and find where the event begins', () => {
    const values = Float64Array.from({ length: 2000 }, (_, i) => i / 20);
    const codes = Array.from(values, (value) => Number(value > 50));
    const { at, shares } = sharesAlong(values, codes, 2)!;
    at.forEach((x, i) => {
      expect(shares[0][i] + shares[1][i]).toBeCloseTo(1, 10);
      if (x < 35) expect(shares[1][i]).toBeLessThan(0.01);
      if (x > 65) expect(shares[1][i]).toBeGreaterThan(0.99);
    });
  });

  it('passes over what is not known', () => {
    const values = Float64Array.of(1, 2, NaN, 3, 4);
    expect(sharesAlong(values, [0, 0, 1, -1, 0], 2)!.shares[0].every((share) => share === 1)).toBe(
      true,
    );
    expect(sharesAlong(Float64Array.of(1, 1), [0, 1], 2)).toBeUndefined();
  });
});

describe('quantile plot', () => {
  it('of normal values lies on its line', () => {
    const { points, intercept, slope } = normalQuantilePlot(normals(4000, 50, 4).sort());
    expect(intercept).toBeCloseTo(50, 0);
    expect(Math.abs(slope - 4)).toBeLessThan(0.3);
    expect(points).toHaveLength(400);
    const middle = points.filter(({ normal }) => Math.abs(normal) < 2);
    for (const { normal, value } of middle)
      expect(Math.abs(value - (intercept + slope * normal))).toBeLessThan(0.8);
  });
  it('stands at Blom’s positions: the middle of three at 0', () => {
    const { points } = normalQuantilePlot(sorted(1, 2, 3));
    expect(points[1].normal).toBeCloseTo(0, 12);
    // (3 - 3/8) / 3.25 = 0.807692; from memory the normal quantile there is 0.8694.
    expect(points[2].normal).toBeCloseTo(0.8694, 4);
  });
});

describe('reshaping', () => {
  const { power_transform } = loadValues<{
    power_transform: {
      calc: Record<'box_cox' | 'yeo_johnson', { lam: number; transformed_first3: number[] }>;
    };
  }>('survey_urine_birthwt');
  const calcium = completeUrine()('calc');

  it('λ of Box & Cox beside an independent library (absolute 1e-6)', () => {
    const { lam, transformed_first3 } = power_transform.calc.box_cox;
    const lambda = boxCoxLambda(calcium);
    expect(Math.abs(lambda - lam)).toBeLessThan(1e-6);
    transformed_first3.forEach((expected, i) =>
      expect(boxCox(calcium[i], lambda)).toBeCloseTo(expected, 5),
    );
  });

  it('λ of Yeo & Johnson beside an independent library (absolute 1e-6)', () => {
    const { lam, transformed_first3 } = power_transform.calc.yeo_johnson;
    const lambda = yeoJohnsonLambda(calcium);
    expect(Math.abs(lambda - lam)).toBeLessThan(1e-6);
    transformed_first3.forEach((expected, i) =>
      expect(yeoJohnson(calcium[i], lambda)).toBeCloseTo(expected, 5),
    );
  });

  // Searched with fifty digits; birth weight and mother's weight of Hosmer & Lemeshow (1989).
  const powers = loadValues<{
    results: { kind: string; column: string; multiplied_by: string; lam: number }[];
  }>('power_transformation_birthwt').results;
  const mothers = loadTable('birthwt');
  it.each(powers.map((one) => [one.kind, one.column, one.multiplied_by, one] as const))(
    'λ of %s, %s × %s, in that unit too (absolute 1e-5)',
    (kind, column, factor, { lam }) => {
      const raw = numbers(mothers, column === 'bwt_centred' ? 'bwt' : column);
      const values = raw.map((x) => (column === 'bwt_centred' ? x - 2945 : x) * Number(factor));
      const lambda = kind === 'Box-Cox' ? boxCoxLambda(values) : yeoJohnsonLambda(values);
      if (Math.abs(lam) <= 5) expect(Math.abs(lambda - lam)).toBeLessThan(1e-5);
      else expect(lambda).toBeCloseTo(5 * Math.sign(lam), 4);
    },
  );

  it('says when the power stops at the end of what is tried', () => {
    const tiny = numbers(mothers, 'lwt').map((x) => x * 1e-4);
    const byWay = Object.fromEntries(viewReshapings(tiny).ways.map((one) => [one.way, one]));
    expect(byWay['Yeo–Johnson'].atBound).toBe(true);
    expect(byWay['Box–Cox'].atBound).toBe(false);
  });

  it('gives the same skewness in every unit', () => {
    const [here, there] = [1, 1e9].map(
      (factor) =>
        viewReshapings(numbers(mothers, 'lwt').map((x) => x * factor)).ways.find(
          ({ way }) => way === 'Box–Cox',
        )!.skewness,
    );
    expect(there).toBeCloseTo(here, 6);
  });

  it('is the identity, shifted, at λ = 1, and joins smoothly at λ = 0 and 2', () => {
    for (const x of [-3, -0.5, 0, 0.7, 4]) expect(yeoJohnson(x, 1)).toBeCloseTo(x, 12);
    expect(boxCox(3, 1)).toBeCloseTo(2, 12);
    expect(boxCox(3, 1e-9)).toBeCloseTo(Math.log(3), 8);
    expect(yeoJohnson(-2, 2)).toBeCloseTo(-Math.log(3), 12);
  });

  it('takes the skew out of a log-normal lab and offers no logarithm for zeros', () => {
    const lab = normals(3000).map((z) => Math.exp(1 + z));
    const { before, ways } = viewReshapings(lab);
    expect(before).toBeGreaterThan(2);
    expect(ways.map(({ way }) => way).sort()).toEqual(['Box–Cox', 'Yeo–Johnson', 'log']);
    expect(Math.abs(ways[0].skewness)).toBeLessThan(0.1);
    const withZero = viewReshapings(Float64Array.of(0, ...lab));
    expect(withZero.ways.map(({ way }) => way)).toEqual(['Yeo–Johnson']);
    expect(viewReshapings(Float64Array.of(3, 3, 3)).ways).toEqual([]);
  });
});

describe('gaps', () => {
  const number = (...values: number[]): Column => ({
    type: 'number',
    values: Float64Array.from(values),
  });
  it('counts them by column, by patient and by what is missing together', () => {
    const columns: Column[] = [
      number(1, NaN, 3, NaN, NaN),
      { type: 'coded', codes: Int32Array.of(0, -1, 0, -1, 0), levels: ['a'] },
      { type: 'text', values: ['x', 'y', 'z', 'u', null] },
    ];
    expect(
      findGaps(
        columns.map((column) => ({ column })),
        5,
      ),
    ).toEqual({
      patients: 5,
      perColumn: [3, 2, 1],
      perPatient: [2, 0, 3],
      patterns: [
        { columns: [], patients: 2 },
        { columns: [0, 1], patients: 2 },
        { columns: [0, 2], patients: 1 },
      ],
      patternCount: 3,
    });
  });

  it('keeps columns apart beyond the width of a word', () => {
    const columns = Array.from({ length: 70 }, (_, j) => ({
      column: number(j === 31 || j === 69 ? NaN : 1),
    }));
    expect(findGaps(columns, 1).patterns).toEqual([{ columns: [31, 69], patients: 1 }]);
  });
});

describe('a number by the outcome', () => {
  it('parts birth weights by smoking', () => {
    const table = loadTable('birthwt');
    const found = viewNumber(numbers(table, 'bwt'), {
      codes: Array.from(numbers(table, 'smoke')),
      levels: 2,
    })!;
    expect(found.groups!.map(({ patients }) => patients)).toEqual([115, 74]);
    const bins = found.groups!.map((group) => group.bins);
    found.histogram.counts.forEach((count, i) => expect(bins[0][i] + bins[1][i]).toBe(count));
  });
});
