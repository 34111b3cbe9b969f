import { describe, expect, it } from 'vitest';
import {
  areaUnderCurve,
  levelAreas,
  numberAgreement,
  withinTolerance,
} from '../../src/measures/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import type { Outcome, Predictions } from '../../src/outcome/index.ts';
import { loadValues } from '../reference/load.ts';

describe('areas of several levels', () => {
  const { results } = loadValues<{
    results: {
      inline_probabilities: {
        values: number[][];
        true_level: number[];
        hand_till_average_auc: number;
        one_against_rest_auc: Record<string, number>;
        one_against_rest_macro: number;
        one_against_rest_weighted_by_share: number;
      };
    };
  }>('measures_pbc_stage');
  const reference = results.inline_probabilities;
  const levels = ['1', '2', '3', '4'];
  const outcome: Outcome<'levels'> = {
    kind: 'levels',
    levels,
    ordered: true,
    values: Int32Array.from(reference.true_level, (level) => level - 1),
  };
  const predictions: Predictions<'levels'> = {
    kind: 'levels',
    levels,
    shares: Float64Array.from(reference.values.flat()),
  };

  it('are those of general-purpose libraries, and the average of Hand & Till', () => {
    const found = levelAreas(outcome, predictions);
    for (const { level, area } of found.levels)
      expect(area!.value).toBeCloseTo(reference.one_against_rest_auc[level], 10);
    expect(found.macro).toBeCloseTo(reference.one_against_rest_macro, 10);
    expect(found.weighted).toBeCloseTo(reference.one_against_rest_weighted_by_share, 10);
    expect(found.pairs).toBeCloseTo(reference.hand_till_average_auc, 10);
  });

  it('are, by brute force, how often one of two patients has the higher share', () => {
    const { values } = outcome;
    const shareOf = (row: number, level: number) => predictions.shares[row * 4 + level];
    const rows = (level: number) => [...values.keys()].filter((row) => values[row] === level);
    const above = (one: number, other: number) => {
      let [wins, pairs] = [0, 0];
      for (const a of rows(one))
        for (const b of rows(other)) {
          const gap = shareOf(a, one) - shareOf(b, one);
          wins += gap > 0 ? 1 : gap === 0 ? 0.5 : 0;
          pairs++;
        }
      return wins / pairs;
    };
    let sum = 0;
    for (let i = 0; i < 4; i++)
      for (let j = i + 1; j < 4; j++) sum += (above(i, j) + above(j, i)) / 2;
    expect(levelAreas(outcome, predictions).pairs).toBeCloseTo(sum / 6, 12);
  });

  it('leave out levels that nobody has, and patients whose level is not known', () => {
    const some = { ...outcome, values: outcome.values.map((value) => (value === 3 ? -1 : value)) };
    const found = levelAreas(some, predictions);
    expect(found.levels[3]).toEqual({ level: '4', patients: 0 });
    const known = [...some.values.keys()].filter((row) => some.values[row] >= 0);
    expect(found.levels[0].area).toEqual(
      areaUnderCurve(
        known.map((row) => predictions.shares[row * 4]),
        known.map((row) => Number(some.values[row] === 0)),
      ),
    );
    const one = { ...outcome, values: new Int32Array(35) };
    expect(levelAreas(one, predictions).pairs).toBeUndefined();
    expect(levelAreas(one, predictions).macro).toBeUndefined();
  });
});

describe('agreement of numbers', () => {
  // Bland & Altman (1986), Lancet 327:307-310, table of peak flow by two meters; the readings from memory.
  const large = [
    494, 395, 516, 434, 476, 557, 413, 442, 650, 433, 417, 656, 267, 478, 178, 423, 427,
  ];
  const mini = [
    512, 430, 520, 428, 500, 600, 364, 380, 658, 445, 432, 626, 260, 477, 259, 350, 451,
  ];

  it('has the mean difference and the limits that were published', () => {
    const { bias, limits } = numberAgreement(mini, large)!;
    expect(bias.value).toBeCloseTo(-2.1, 1);
    // There the limits are two SDs of 38.8 away, here 1.96.
    const spread = (limits.upper.value! - limits.lower.value!) / (2 * 1.959964);
    expect(spread).toBeCloseTo(38.8, 1);
    // Published: from -22.0 to 17.8 for the mean.
    expect(bias.interval![0]).toBeCloseTo(-22.0, 0);
    expect(bias.interval![1]).toBeCloseTo(17.8, 0);
    // The standard error of a limit is about the root of 3 s² / n, 16.3 there.
    const reach = limits.lower.value! - limits.lower.interval![0];
    expect(reach / 2.12).toBeGreaterThan(16);
    expect(reach / 2.12).toBeLessThan(16.7);
  });

  it('has the errors and the line by hand', () => {
    const found = numberAgreement([1, 2, 4, 9], [1, 2, 3, NaN])!;
    expect(found.patients).toBe(3);
    expect(found.rootMeanSquare.value).toBeCloseTo(Math.sqrt(1 / 3), 12);
    expect(found.meanAbsolute.value).toBeCloseTo(1 / 3, 12);
    expect(found.medianAbsolute.value).toBe(0);
    expect(found.line!.slope.value).toBeCloseTo(1.5, 12);
    expect(found.line!.constant.value).toBeCloseTo(-2 / 3, 12);
    // Residuals 1/6, -1/3 and 1/6: variance 1/6 on one degree of freedom, squares of x 2.
    const [lower, upper] = found.line!.slope.interval!;
    expect((upper - lower) / 2).toBeCloseTo(12.7062 * Math.sqrt(1 / 6 / 2), 3);
    expect(numberAgreement([1, 2], [1, 2])).toBeUndefined();
    expect(numberAgreement([1, 2, 3], [5, 5, 5])!.line).toBeUndefined();
  });

  it('has intervals that narrow with patients, and are the same again', () => {
    const draw = randomStream(6, 'agreement');
    const made = (count: number) => {
      const said = Float64Array.from({ length: count }, () => 100 + 20 * draw.normal());
      return { said, seen: said.map((value) => value + 5 * draw.normal()) };
    };
    const [few, many] = [made(60), made(2000)];
    const one = numberAgreement(few.seen, few.said)!;
    const other = numberAgreement(many.seen, many.said)!;
    expect(numberAgreement(few.seen, few.said)).toEqual(one);
    for (const name of ['rootMeanSquare', 'meanAbsolute', 'medianAbsolute', 'rSquared'] as const) {
      const width = ({ interval }: { interval?: [number, number] }) => interval![1] - interval![0];
      expect(width(other[name])).toBeLessThan(width(one[name]) / 3);
    }
    // The spread is 5, so that the mean absolute error is 5 √(2/π) and the median one 3.37.
    expect(other.rootMeanSquare.value).toBeCloseTo(5, 0);
    expect(other.meanAbsolute.value).toBeCloseTo(3.99, 0);
    expect(other.medianAbsolute.value).toBeCloseTo(3.37, 0);
    expect(other.line!.slope.interval![0]).toBeLessThan(1.01);
    expect(other.line!.slope.interval![1]).toBeGreaterThan(0.99);
  });

  it('counts who is within a tolerance, its edge too', () => {
    expect(withinTolerance([1, 2, 3, NaN], [1.1, 2.5, 3.3, 4], 0.3)).toMatchObject({
      count: 2,
      total: 3,
    });
    expect(withinTolerance([], [], 1).value).toBeUndefined();
  });
});
