import { describe, expect, it } from 'vitest';
import type { PredictorColumn } from '../../src/preparation/index.ts';
import { comparedWith, contributionsOf, type Ask } from '../../src/reasons/index.ts';
import { threeTrees, writtenFunction } from './golden.ts';

const rowOf = (columns: PredictorColumn[], x: number[]): PredictorColumn[] =>
  columns.map(({ name }, j) => ({ name, type: 'number', values: Float64Array.of(x[j]) }));

describe.each([
  ['a function that is written out', writtenFunction()],
  ['three trees', threeTrees()],
] as const)('contributions to what %s says', (_, { ask, columns, results }) => {
  it('are the Shapley values of all sets', () => {
    for (const { x, prediction, base, values } of results.shapley_interventional) {
      const found = contributionsOf(ask, rowOf(columns, x), columns);
      expect(found.base / base).toBeCloseTo(1, 10);
      expect(found.said / prediction).toBeCloseTo(1, 10);
      for (const { name, value, standardError } of found.contributions) {
        expect(value / base).toBeCloseTo(values[name] / base, 10);
        expect(standardError).toBeUndefined();
      }
    }
  });
});

describe('contributions that are drawn', () => {
  const { ask, columns, results } = writtenFunction();
  /** Two columns more than are gone through exactly, which nothing looks at. */
  const more: PredictorColumn[] = ['blank', 'empty'].map((name) => ({
    ...{ name, type: 'number' as const },
    values: columns[0].type === 'number' ? columns[0].values : new Float64Array(0),
  }));
  const askFive: Ask = (all, rowCount) => ask(all.slice(0, 5), rowCount);
  const all = [...columns, ...more];
  const compared = Array.from({ length: 48 }, (_, i) => i);

  it('add up exactly, and lie within their error of the Shapley values', () => {
    for (const { x, prediction, values } of results.shapley_interventional) {
      const found = contributionsOf(
        askFive,
        rowOf(all, [...x, 0, 0]),
        comparedWith(all, compared),
        { orders: 960, seed: 4 },
      );
      const sum = found.contributions.reduce((total, { value }) => total + value, found.base);
      expect(sum).toBeCloseTo(prediction, 10);
      expect(found.said).toBeCloseTo(prediction, 10);
      for (const { name, value, standardError } of found.contributions) {
        if (!(name in values)) expect(value).toBe(0);
        else expect(Math.abs(value - values[name])).toBeLessThan(4 * standardError! + 1e-9);
      }
    }
  });

  it('are the same whenever they are drawn with the same seed, and nearer with more orders', () => {
    const [{ x }] = results.shapley_interventional;
    const found = (orders: number) =>
      contributionsOf(askFive, rowOf(all, [...x, 0, 0]), all, { orders, seed: 9 });
    expect(found(100)).toEqual(found(100));
    const errors = [100, 1600].map((orders) =>
      found(orders).contributions.reduce((most, one) => Math.max(most, one.standardError!), 0),
    );
    // A quarter, as the root of sixteen times as many.
    expect(errors[1] / errors[0]).toBeLessThan(0.35);
  });

  it('end at the standard error that is asked for, and belong to the patient alone', () => {
    const [{ x }] = results.shapley_interventional;
    const patient = rowOf(all, [...x, 0, 0]);
    const rough = contributionsOf(askFive, patient, all, { orders: 4000, seed: 9, until: 0.05 });
    const fine = contributionsOf(askFive, patient, all, { orders: 4000, seed: 9, until: 0.01 });
    for (const [found, until] of [
      [rough, 0.05],
      [fine, 0.01],
    ] as const)
      for (const { standardError } of found.contributions)
        expect(standardError!).toBeLessThanOrEqual(until);
    // A second patient has a sample of orders of their own.
    const other = contributionsOf(askFive, rowOf(all, [...x, 1, 0]), all, { orders: 100, seed: 9 });
    expect(other).not.toEqual(contributionsOf(askFive, patient, all, { orders: 100, seed: 9 }));
  });
});
