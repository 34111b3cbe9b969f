import { describe, expect, it } from 'vitest';
import { randomStream } from '../../src/numeric/index.ts';
import type { PredictorColumn } from '../../src/preparation/index.ts';
import {
  inRules,
  overDirections,
  overTwo,
  strongestPairs,
  type Ask,
} from '../../src/reasons/index.ts';
import { loadValues } from '../reference/load.ts';
import { columnsOf } from '../reference/sets.ts';
import { writtenFunction } from './golden.ts';

const numbersOf = (columns: PredictorColumn[]) =>
  columns.map((column) => (column.type === 'number' ? column.values : Float64Array.of()));

/** What a function says of rows of numbers, as a model would. */
const predictBy =
  (of: (x: number[]) => number) => (columns: PredictorColumn[], rowCount: number) => ({
    kind: 'number' as const,
    values: Float64Array.from({ length: rowCount }, (_, i) =>
      of(numbersOf(columns).map((values) => values[i])),
    ),
  });

const draw = randomStream(3, 'two at once');
const made = (count: number, names: string[]): PredictorColumn[] =>
  names.map((name) => ({
    ...{ name, type: 'number' as const },
    values: Float64Array.from({ length: count }, () => draw.normal()),
  }));

describe('what is said over two predictors', () => {
  it('is their common partial dependence in the middle of every cell', () => {
    const columns = made(40, ['a', 'b', 'c']);
    const [, , c] = numbersOf(columns);
    const mean = c.reduce((sum, one) => sum + one / c.length, 0);
    const map = overTwo(
      predictBy(([x, y, z]) => x * y + 2 * z),
      columns,
      ['a', 'b'],
    )!;
    if (!('cells' in map.across) || !('cells' in map.up)) throw new Error();
    const { across, up } = map;
    expect(map.predicted.values).toHaveLength(across.cells * up.cells);
    map.predicted.values.forEach((value, i) => {
      const at = (axis: typeof across, cell: number) =>
        axis.from + ((cell + 0.5) / axis.cells) * (axis.to - axis.from);
      const [x, y] = [at(across, i % across.cells), at(up, Math.floor(i / across.cells))];
      // Kept to four digits.
      expect(Math.abs(value - (x * y + 2 * mean))).toBeLessThan(
        6e-4 * Math.max(0.1, Math.abs(x * y + 2 * mean)),
      );
    });
    expect(map.of).toBe(40);
  });

  it('is none where one of them does not vary', () => {
    const columns = made(30, ['a', 'b']);
    const still: PredictorColumn = { name: 'b', type: 'number', values: new Float64Array(30) };
    expect(
      overTwo(
        predictBy(([x]) => x),
        [columns[0], still],
        ['a', 'b'],
      ),
    ).toBeUndefined();
    expect(
      overDirections(
        predictBy(([x]) => x),
        [columns[0], still],
        ['1', '2'],
      ),
    ).toBeUndefined();
  });
});

describe('the first two directions of patients', () => {
  it('are the principal components of standardised numbers (wine)', () => {
    const { columns: names, results } = loadValues<{
      columns: string[];
      results: { explained_proportion: number[]; loadings: { loadings: Record<string, number> }[] };
    }>('pca_wine');
    const { columns } = columnsOf('wine', names);
    const wine = names.map((name, j) => ({
      ...{ name, type: 'number' as const },
      values: columns[j],
    }));
    const { directions } = overDirections(
      predictBy(([x]) => x),
      wine,
      ['first', 'second'],
    )!;
    directions.forEach(({ share, parts }, k) => {
      expect(share).toBeCloseTo(results.explained_proportion[k], 9);
      names.forEach((name) =>
        expect(parts.find((part) => part.name === name)!.weight).toBeCloseTo(
          results.loadings[k].loadings[name],
          7,
        ),
      );
    });
  });

  it('carry a straight line through every cell, whoever is moved there', () => {
    const columns = made(200, ['a', 'b', 'c']);
    const weights = [1, -2, 0.5];
    const straight = predictBy((x) => x.reduce((sum, one, j) => sum + weights[j] * one, 0));
    const { map, directions } = overDirections(straight, columns, ['first', 'second'])!;
    if (!('cells' in map.across) || !('cells' in map.up)) throw new Error();
    expect(directions.map(({ parts }) => parts.length)).toEqual([3, 3]);
    expect(directions[0].share).toBeGreaterThanOrEqual(directions[1].share);
    for (const { parts } of directions)
      expect(parts.reduce((sum, { weight }) => sum + weight ** 2, 0)).toBeCloseTo(1, 10);
    // Cells differ as the line does along the directions, up to what the moved patients have besides.
    const { cells } = map.across;
    const row = map.predicted.values.slice(0, cells);
    const slope = (row[cells - 1] - row[0]) / ((map.across.to - map.across.from) * (1 - 1 / cells));
    const sds = numbersOf(columns).map((values) => {
      const mean = values.reduce((sum, one) => sum + one / 200, 0);
      return Math.sqrt(values.reduce((sum, one) => sum + (one - mean) ** 2 / 200, 0));
    });
    const expected = directions[0].parts.reduce((sum, { name, weight }) => {
      const j = ['a', 'b', 'c'].indexOf(name);
      return sum + weight * weights[j] * sds[j];
    }, 0);
    expect(Math.abs(slope - expected)).toBeLessThan(0.75);
  });
});

describe('pairs that act together', () => {
  it('are those of the written function, by all mothers whom they are told by', () => {
    const { ask, columns } = writtenFunction();
    const names = columns.map(({ name }) => name);
    const { pairs, patients } = strongestPairs(ask, columns, names);
    expect(patients).toBe(30);
    // It has lwt with ht and age with smoke; all others only add up.
    const acting = pairs.filter(({ h }) => h > 1e-6).map(({ names: pair }) => pair.toSorted());
    expect(acting.toSorted(([a], [b]) => (a < b ? -1 : 1))).toEqual([
      ['age', 'smoke'],
      ['ht', 'lwt'],
    ]);
    for (let k = 1; k < pairs.length; k++) expect(pairs[k].h).toBeLessThanOrEqual(pairs[k - 1].h);
  });

  it('are none where nothing moves what is said', () => {
    const { columns } = writtenFunction();
    const ask: Ask = (_, rowCount) => new Float64Array(rowCount).fill(0.2);
    expect(strongestPairs(ask, columns, ['age', 'lwt']).pairs).toEqual([]);
  });
});

describe('a small tree that follows a model', () => {
  const columns = made(400, ['a', 'b']);
  const [a, b] = numbersOf(columns);
  const folds = Uint8Array.from(a, (_, i) => i % 5);
  const isCalled = (said: number) => said >= 0.5;

  it('says the same where the model is a small tree', () => {
    const said = a.map((x, i) => (x < 0 ? 0.1 : b[i] < 0.5 ? 0.4 : 0.9));
    const found = inRules(columns, said, folds, isCalled, 8, 1);
    expect(found.leaves).toBe(3);
    const means = found.tree.nodes.flatMap(({ mean, left, from }) =>
      left === undefined || from! <= found.tree.chosen ? [mean!] : [],
    );
    expect(Math.min(...means)).toBeCloseTo(0.1, 10);
    // Only who stands between two cuts of different folds can be told apart.
    expect(found.faithful.alike).toBeGreaterThan(390);
    expect(found.faithful.rSquared!).toBeGreaterThan(0.95);
  });

  it('does not follow what no question tells, and says so', () => {
    const said = a.map(() => draw.uniform());
    const { faithful, patients } = inRules(columns, said, folds, isCalled, 8, 1);
    expect(faithful.alike + faithful.calledAlone + faithful.treeAlone).toBe(patients);
    expect(faithful.rSquared!).toBeLessThan(0.1);
    expect(faithful.alike / patients).toBeLessThan(0.65);
  });

  it('has as many leaves as are asked for at most, and follows better with more', () => {
    const said = a.map((x, i) => 1 / (1 + Math.exp(-2 * x - b[i])));
    const [few, many] = [3, 16].map((leaves) => inRules(columns, said, folds, isCalled, leaves, 1));
    expect(few.leaves).toBeLessThanOrEqual(3);
    expect(many.leaves).toBeLessThanOrEqual(16);
    expect(many.faithful.rSquared!).toBeGreaterThan(few.faithful.rSquared!);
    const alike = inRules(columns, new Float64Array(400).fill(0.2), folds, isCalled, 8, 1);
    expect(alike.leaves).toBe(1);
    expect(alike.faithful).toEqual({ alike: 400, calledAlone: 0, treeAlone: 0 });
  });
});
