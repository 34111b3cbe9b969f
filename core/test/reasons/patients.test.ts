import { describe, expect, it } from 'vitest';
import { randomStream } from '../../src/numeric/index.ts';
import type { Outcome } from '../../src/outcome/index.ts';
import type { PredictorColumn } from '../../src/preparation/index.ts';
import { effectOf, mostSimilar, permutePart, type Ask } from '../../src/reasons/index.ts';
import { collectOutOfFold, fitPart, planParts } from '../../src/tuning/index.ts';
import { fitAll, folds, outcomes, predictors, rows } from '../tuning/made-up-patients.ts';

describe('an effect as it is shown', () => {
  const count = 200;
  const draw = randomStream(5, 'shown');
  const age = Float64Array.from({ length: count }, (_, i) => (i % 10 === 0 ? NaN : 20 + (i % 60)));
  const ward = Int32Array.from({ length: count }, (_, i) => (i % 7 === 0 ? -1 : i % 3));
  const columns: PredictorColumn[] = [
    { name: 'age', type: 'number', values: age },
    { name: 'ward', type: 'coded', levels: ['a', 'b', 'c'], codes: ward },
  ];
  const truth = Float64Array.from({ length: count }, () => Number(draw.uniform() < 0.3));
  const ask: Ask = ([one, other], rowCount) =>
    Float64Array.from({ length: rowCount }, (_, i) => {
      if (one.type !== 'number' || other.type !== 'coded') throw new Error();
      return (Number.isNaN(one.values[i]) ? 50 : one.values[i]) / 200 + 0.1 * other.codes[i];
    });

  it('has bands that hold everybody whose value is known once, with what happened to them', () => {
    const shown = effectOf(ask, columns, 'age', truth, true);
    expect(shown.unknown).toBe(20);
    expect(shown.bands.reduce((sum, { patients }) => sum + patients, 0)).toBe(180);
    shown.bands.forEach(({ from, to, patients, observed, interval }) => {
      const own = Array.from(age.keys()).filter((i) => age[i] >= from! && age[i] <= to!);
      expect(patients).toBe(own.length);
      const cases = own.reduce((sum, i) => sum + truth[i], 0);
      expect(observed).toBeCloseTo(cases / own.length, 12);
      expect(interval![0]).toBeLessThanOrEqual(observed!);
      expect(interval![1]).toBeGreaterThanOrEqual(observed!);
    });
    // Edges rise, and no value stands in two bands.
    for (let k = 1; k < shown.bands.length; k++)
      expect(shown.bands[k].from!).toBeGreaterThan(shown.bands[k - 1].to!);
  });

  it('has the mean of everybody’s own curves, and the sum of steps beside it', () => {
    const { at, mean, curves, accumulated } = effectOf(ask, columns, 'age', truth, true);
    expect(curves).toHaveLength(30);
    const slope = (mean[mean.length - 1] - mean[0]) / (at[at.length - 1] - at[0]);
    expect(slope).toBeCloseTo(1 / 200, 12);
    for (const own of curves) expect(own[1] - own[0]).toBeCloseTo((at[1] - at[0]) / 200, 12);
    const { at: edges, said } = accumulated!;
    expect((said[3] - said[0]) / (edges[3] - edges[0])).toBeCloseTo(1 / 200, 10);
  });

  it('of levels stands at those that somebody has', () => {
    const some = columns.map((column) =>
      column.type === 'coded' ? { ...column, levels: ['a', 'b', 'c', 'nobody'] } : column,
    );
    const { at, mean, accumulated, bands, levels } = effectOf(ask, some, 'ward', truth, true);
    expect(at).toEqual([0, 1, 2]);
    expect(mean[2] - mean[0]).toBeCloseTo(0.2, 12);
    expect(accumulated).toBeUndefined();
    expect(levels).toHaveLength(4);
    expect(bands[3]).toEqual({ level: 'nobody', patients: 0 });
  });

  it('of numbers has means with their error', () => {
    const numbers = Float64Array.from({ length: count }, (_, i) => 100 + (i % 5));
    const { bands } = effectOf(ask, columns, 'ward', numbers, false);
    const own = Array.from(ward.keys()).filter((i) => ward[i] === 1);
    const mean = own.reduce((sum, i) => sum + numbers[i], 0) / own.length;
    expect(bands[1].observed).toBeCloseTo(mean, 12);
    expect(bands[1].interval![1] - mean).toBeCloseTo(mean - bands[1].interval![0], 10);
  });
});

describe('patients who are most like one', () => {
  const columns: PredictorColumn[] = [
    { name: 'age', type: 'number', values: Float64Array.of(20, 40, 60, NaN, 30) },
    {
      ...{ name: 'grade', type: 'coded', ordered: true },
      levels: ['1', '2', '3'],
      codes: Int32Array.of(0, 1, 2, 0, -1),
    },
    { name: 'ward', type: 'coded', levels: ['n', 's'], codes: Int32Array.of(0, 0, 1, 0, 0) },
  ];
  const patient: PredictorColumn[] = [
    { name: 'age', type: 'number', values: Float64Array.of(30) },
    { ...columns[1], codes: Int32Array.of(0) } as PredictorColumn,
    { ...columns[2], codes: Int32Array.of(0) } as PredictorColumn,
  ];

  it('are those of the least mean distance over what is known of both, by hand', () => {
    const found = mostSimilar(patient, columns, 10);
    expect(found.map(({ row }) => row)).toEqual([3, 4, 0, 1, 2]);
    const byRow = (row: number) => found.find((one) => one.row === row)!;
    expect(byRow(0).distance).toBeCloseTo(10 / 40 / 3, 12);
    expect(byRow(1).distance).toBeCloseTo((10 / 40 + 1 / 2) / 3, 12);
    expect(byRow(2).distance).toBeCloseTo((30 / 40 + 1 + 1) / 3, 12);
    expect(byRow(3)).toEqual({ row: 3, distance: 0, known: 2 });
    expect(mostSimilar(patient, columns, 2, 3).map(({ row }) => row)).toEqual([4, 0]);
  });

  it('are not those of whom hardly anything is known', () => {
    const blank = columns.map((column) =>
      column.type === 'number'
        ? { ...column, values: Float64Array.of(NaN, 40, 60, NaN, 30) }
        : { ...column, codes: Int32Array.from(column.codes, (code, i) => (i === 0 ? -1 : code)) },
    );
    expect(mostSimilar(patient, blank, 10).map(({ row }) => row)).not.toContain(0);
  });
});

describe('a fold whose values are dealt anew', () => {
  const recipe = { family: 'logistic', settings: {}, seed: 4 };
  const groups = predictors.map(({ name }) => ({ name, columns: [name] }));
  const parts = planParts(rows, folds, new Int32Array(0)).filter(({ name }) => name !== 'all');
  const cases = { kind: 'event' as const };
  const outcome = outcomes.event as Outcome<'event'>;

  it('says of its patients as they are what it says out of fold', () => {
    const outOfFold = collectOutOfFold(folds, fitAll(outcome, recipe));
    if (outOfFold.kind !== 'event') throw new Error('An event was predicted.');
    for (const part of parts) {
      const { plain, moved } = permutePart({
        ...{ part, predictors, outcome, recipe, cases, groups, times: 2 },
      });
      expect(Array.from(plain)).toEqual(
        Array.from(part.predictRows, (row) => outOfFold.risks[row]),
      );
      // The second predictor is looked at; everybody’s own value once more would change nothing.
      expect(moved[1][0]).not.toEqual(plain);
      expect(moved[1][0]).not.toEqual(moved[1][1]);
    }
  });

  it('is learned from the others alone', () => {
    const [part] = parts;
    const turned: Outcome = {
      ...outcome,
      values: outcome.values.map((value, row) =>
        part.predictRows.includes(row) ? 1 - value : value,
      ),
    };
    const task = { part, predictors, recipe, cases, groups, times: 1 };
    expect(permutePart({ ...task, outcome: turned })).toEqual(permutePart({ ...task, outcome }));
  });

  it('of what looks at no predictor is the same for all', () => {
    const [part] = parts;
    const { plain, moved } = permutePart({
      ...{ part, predictors, outcome, cases, groups, times: 1 },
      recipe: { family: 'reference', settings: {}, seed: 1 },
    });
    const all = fitPart(part, predictors, outcome, { family: 'reference', settings: {}, seed: 1 });
    if (all.predictions.kind !== 'event') throw new Error('An event was predicted.');
    expect(Array.from(plain)).toEqual(Array.from(all.predictions.risks));
    for (const [own] of moved) expect(own).toEqual(plain);
  });
});
