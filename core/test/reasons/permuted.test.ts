import { describe, expect, it } from 'vitest';
import { randomStream } from '../../src/numeric/index.ts';
import type { PredictorColumn } from '../../src/preparation/index.ts';
import { askPermuted, worthsOf, type Ask, type Moved } from '../../src/reasons/index.ts';

const count = 2000;
const draw = randomStream(8, 'permuted');
const normal = () => Float64Array.from({ length: count }, () => draw.normal());
const [strong, weak, useless] = [normal(), normal(), normal()];
const noise = normal();
const columns: PredictorColumn[] = [
  { name: 'strong', type: 'number', values: strong },
  { name: 'weak', type: 'number', values: weak },
  { name: 'useless', type: 'number', values: useless },
];
const ofNames = (...names: string[]): Moved[] => names.map((name) => ({ name, columns: [name] }));
const groups: Moved[] = [
  ...ofNames('strong', 'weak', 'useless'),
  { name: 'both', columns: ['strong', 'weak'] },
];
/** Looks at the useless column too, as a model that has learned from noise does. */
const ask: Ask = ([a, b, c], rowCount) =>
  Float64Array.from({ length: rowCount }, (_, i) => {
    if (a.type !== 'number' || b.type !== 'number' || c.type !== 'number') throw new Error();
    return 2 * a.values[i] + 0.5 * b.values[i] + 0.01 * c.values[i];
  });
const truth = strong.map((value, i) => 2 * value + 0.5 * weak[i] + noise[i]);
const events = Int8Array.from(truth, (value) => Number(value > 1));
const costs = {
  missed: new Float64Array(count).fill(5),
  falseAlarm: new Float64Array(count).fill(1),
};
const permuted = askPermuted(ask, columns, groups, { times: 5, seed: 2 });
const worths = worthsOf(permuted, groups, { events, cutoff: 0, costs, truth });
const worth = (measure: string, name: string) =>
  worths.find((one) => one.measure === measure)!.groups.find((one) => one.name === name)!;

describe('what predictors are worth', () => {
  it('is twice the variance that they explain, of squared errors', () => {
    const variance = (values: Float64Array) => {
      const mean = values.reduce((sum, one) => sum + one, 0) / count;
      return values.reduce((sum, one) => sum + (one - mean) ** 2, 0) / count;
    };
    const expected = { strong: 8 * variance(strong), weak: 0.5 * variance(weak) };
    for (const [name, value] of Object.entries(expected)) {
      const [low, high] = worth('squared error', name).interval!;
      expect(value).toBeGreaterThan(low);
      expect(value).toBeLessThan(high);
      expect((high - low) / value).toBeLessThan(0.6);
    }
    // Moved together they take both with them.
    const both = worth('squared error', 'both');
    expect(both.value / (expected.strong + expected.weak)).toBeCloseTo(1, 0);
  });

  it('of a useless one is nothing, within its error, by every measure', () => {
    expect(worths.map(({ measure }) => measure)).toEqual(['cost', 'area', 'squared error']);
    for (const { measure } of worths) {
      const { interval } = worth(measure, 'useless');
      expect(interval![0]).toBeLessThanOrEqual(0);
      expect(interval![1]).toBeGreaterThanOrEqual(0);
      expect(worth(measure, 'strong').interval![0]).toBeGreaterThan(0);
      expect(worth(measure, 'strong').value).toBeGreaterThan(worth(measure, 'weak').value);
    }
  });

  it('of one that is not looked at is exactly nothing, without an interval', () => {
    const blind: Ask = (all, rowCount) => ask([all[0], all[1], all[0]], rowCount);
    const said = askPermuted(blind, columns, ofNames('useless'), { times: 2, seed: 1 });
    for (const { groups: found } of worthsOf(said, ofNames('useless'), {
      ...{ events, cutoff: 0, costs, truth },
    }))
      expect(found[0]).toEqual({ name: 'useless', columns: ['useless'], value: 0 });
  });

  it('is counted by hand for few patients', () => {
    const three: PredictorColumn[] = [
      { name: 'only', type: 'number', values: Float64Array.of(1, 2, 3) },
    ];
    const itself: Ask = ([one]) => (one.type === 'number' ? one.values : new Float64Array(0));
    const found = askPermuted(itself, three, ofNames('only'), { times: 3, seed: 6 });
    expect(found.plain).toEqual(Float64Array.of(1, 2, 3));
    for (const one of found.moved[0]) expect([...one].sort((a, b) => a - b)).toEqual([1, 2, 3]);
    const [{ plain, groups: one }] = worthsOf(found, ofNames('only'), {
      ...{ events: [0, 0, 1], cutoff: 2.5, truth: [0, 0, 1] },
      costs: { missed: [4, 4, 4], falseAlarm: [1, 1, 1] },
    });
    expect(plain).toBe(0);
    // Where the 3 does not stay with the case, one is missed and one is called in for nothing.
    const cost = found.moved[0].map((scores) => (scores[2] === 3 ? 0 : (1000 * 5) / 3));
    expect(one[0].value).toBeCloseTo(cost.reduce((sum, each) => sum + each, 0) / 3, 8);
  });

  it('is left out by cost where costs are counted from level to level', () => {
    const without = worthsOf(permuted, groups, { events, cutoff: 0, truth });
    expect(without.map(({ measure }) => measure)).toEqual(['area', 'squared error']);
  });
});
