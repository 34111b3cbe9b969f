import { describe, expect, it } from 'vitest';
import { randomStream } from '../../src/numeric/index.ts';
import type { PredictorColumn } from '../../src/preparation/index.ts';
import {
  accumulatedEffect,
  interaction,
  partialDependence,
  saidWith,
  type Ask,
} from '../../src/reasons/index.ts';
import { threeTrees, writtenFunction } from './golden.ts';

describe.each([
  ['a function that is written out', writtenFunction()],
  ['three trees', threeTrees()],
] as const)('effects of %s', (_, { ask, columns, results }) => {
  const scale = Math.abs(results.shapley_interventional[0].base);

  it('have the partial dependence that brute force gives', () => {
    for (const { predictor, values, mean_prediction } of results.partial_dependence)
      partialDependence(
        ask,
        columns,
        [predictor],
        values.map((value) => [value]),
      ).forEach((mean, k) => expect(mean / scale).toBeCloseTo(mean_prediction[k] / scale, 10));
    for (const { predictors, points, mean_prediction } of results.partial_dependence_pair)
      partialDependence(ask, columns, predictors, points).forEach((mean, k) =>
        expect(mean / scale).toBeCloseTo(mean_prediction[k] / scale, 10),
      );
  });

  it('have the accumulated local effects that brute force gives', () => {
    for (const one of results.ale) {
      const found = accumulatedEffect(ask, columns, one.predictor, one.intervals_asked)!;
      expect(found.patients).toEqual(one.rows_per_interval);
      found.edges.forEach((edge, k) => expect(edge).toBeCloseTo(one.edges[k], 10));
      found.effects.forEach((effect, k) =>
        expect(effect / scale).toBeCloseTo(one.ale_at_edges[k] / scale, 10),
      );
    }
  });

  it('have the interactions that brute force gives', () => {
    for (const { predictors, h } of results.friedman.pairs)
      expect(interaction(ask, columns, predictors) ?? 0).toBeCloseTo(h, 6);
  });
});

const draw = randomStream(3, 'effects');
const count = 400;
const first = Float64Array.from({ length: count }, () => draw.normal());
/** Goes with the first. */
const second = first.map((value) => value + 0.3 * draw.normal());
const ward = Int32Array.from({ length: count }, () => Math.floor(3 * draw.uniform()));
const columns: PredictorColumn[] = [
  { name: 'first', type: 'number', values: first },
  { name: 'second', type: 'number', values: second },
  { name: 'ward', type: 'coded', levels: ['north', 'south', 'west'], codes: ward, ordered: false },
];
/** A sum of terms. */
const sum: Ask = ([one, other, third], rowCount) =>
  Float64Array.from({ length: rowCount }, (_, i) => {
    if (one.type !== 'number' || other.type !== 'number' || third.type !== 'coded') throw Error();
    return Math.sin(one.values[i]) + other.values[i] ** 2 + [0, 1, 5][third.codes[i]];
  });

describe('effects of a sum of terms', () => {
  it('are the terms, though predictors go together', () => {
    const { edges, effects } = accumulatedEffect(sum, columns, 'first', 20)!;
    edges.forEach((edge, k) =>
      expect(effects[k] - effects[0]).toBeCloseTo(Math.sin(edge) - Math.sin(edges[0]), 10),
    );
    const square = accumulatedEffect(sum, columns, 'second', 20)!;
    square.edges.forEach((edge, k) =>
      expect(square.effects[k] - square.effects[0]).toBeCloseTo(
        edge ** 2 - square.edges[0] ** 2,
        10,
      ),
    );
  });

  it('of a level are its own, and each patient’s curve is as far from all others everywhere', () => {
    const [north, south, west] = partialDependence(sum, columns, ['ward'], [[0], [1], [2]]);
    expect(south - north).toBeCloseTo(1, 10);
    expect(west - north).toBeCloseTo(5, 10);
    const said = saidWith(sum, columns, ['ward'], [[0], [2]]);
    for (let i = 0; i < count; i++) expect(said[count + i] - said[i]).toBeCloseTo(5, 10);
  });

  it('do not interact', () => {
    expect(interaction(sum, columns, ['first', 'second'])).toBeCloseTo(0, 6);
    expect(interaction(sum, columns, ['first', 'ward'])).toBeCloseTo(0, 6);
    const flat: Ask = (_, rowCount) => new Float64Array(rowCount).fill(0.3);
    expect(interaction(flat, columns, ['first', 'second'])).toBeUndefined();
  });

  it('leave out whoever’s value is not known, and need two values', () => {
    const gaps = first.map((value, i) => (i % 4 === 0 ? NaN : value));
    const some = columns.map((column) =>
      column.name === 'first' ? { ...column, values: gaps } : column,
    ) as PredictorColumn[];
    const { patients } = accumulatedEffect(sum, some, 'first', 10)!;
    expect(patients.reduce((total, one) => total + one, 0)).toBe(300);
    const same = columns.map((column) =>
      column.name === 'first' ? { ...column, values: first.map(() => 2) } : column,
    ) as PredictorColumn[];
    expect(accumulatedEffect(sum, same, 'first', 10)).toBeUndefined();
  });
});
