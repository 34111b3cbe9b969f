import { describe, expect, it } from 'vitest';
import { facetOf, familyOf } from '../../src/families/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { predictionsOf, type Outcome } from '../../src/outcome/index.ts';
import { applyPreparation, type PredictorColumn } from '../../src/preparation/index.ts';
import { fitPart } from '../../src/tuning/index.ts';

const count = 2400;
const draw = randomStream(5, 'a plane');
const rows = Int32Array.from({ length: count }, (_, row) => row);
const urea: PredictorColumn = {
  name: 'urea',
  type: 'number',
  // One patient far out, one who lacks it.
  values: Float64Array.from(rows, (row) =>
    row === 7 ? 900 : row === 8 ? NaN : 3 + 12 * draw.uniform(),
  ),
};
const grade: PredictorColumn = {
  name: 'grade',
  type: 'coded',
  ordered: true,
  levels: ['I', 'II', 'never', 'III'],
  codes: Int32Array.from(rows, () => [0, 1, 3][Math.floor(3 * draw.uniform())]),
};
const values = (urea as { values: Float64Array }).values;
const codes = (grade as { codes: Int32Array }).codes;
const events: Outcome = {
  kind: 'event',
  values: Int8Array.from(rows, (row) =>
    Number(draw.uniform() < (values[row] > 9 || codes[row] === 3 ? 0.6 : 0.1)),
  ),
};
const fitted = (family: string, predictors: PredictorColumn[], outcome: Outcome = events) =>
  fitPart({ name: 'all', learnRows: rows, predictRows: rows }, predictors, outcome, {
    family,
    settings: {},
    seed: 1,
  });

describe('what a model of two predictors says anywhere', () => {
  it.each(['decision-tree', 'logistic', 'random-forest'])(
    'is what it predicts in the middle of each cell: %s',
    (family) => {
      const { facets, preparation, model } = fitted(family, [urea, grade]);
      const map = facetOf(facets, 'regions')!;
      expect(map.across).toMatchObject({ column: 'urea', cells: 60 });
      expect(map.up).toEqual({ column: 'grade', levels: ['I', 'II', 'III'] });
      if (!('cells' in map.across)) throw new Error('Urea is a number.');
      const { from, to } = map.across;
      const cells = Array.from({ length: 180 }, (_, i) => i);
      const inputs = applyPreparation(
        preparation,
        [
          {
            name: 'urea',
            type: 'number',
            values: Float64Array.from(cells, (i) => from + (((i % 60) + 0.5) / 60) * (to - from)),
          },
          {
            ...grade,
            codes: Int32Array.from(cells, (i) => [0, 1, 3][Math.floor(i / 60)]),
          },
        ],
        cells,
      );
      const { risks } = predictionsOf(familyOf(family).revive(model).predict(inputs), 'event');
      expect(map.predicted.values).toHaveLength(180);
      map.predicted.values.forEach((value, i) => expect(value).toBeCloseTo(risks[i], 3));
    },
  );

  it('has the patients where they stand, and says how many are not drawn', () => {
    const { patients, outside, of, across } = facetOf(
      fitted('decision-tree', [urea, grade]).facets,
      'regions',
    )!;
    if (!('cells' in across)) throw new Error('Urea is a number.');
    expect(of).toBe(count);
    // Every third of 2,400; half a hundredth of them at each end.
    expect(patients.place.length + outside).toBe(800);
    expect(outside).toBeGreaterThan(0);
    expect(outside).toBeLessThan(20);
    expect(across.to).toBeLessThan(15.1);
    patients.place.forEach((place, i) => {
      expect(patients.across[i]).toBe(values[place]);
      expect(['I', 'II', 'III'][patients.up[i]]).toBe(['I', 'II', 'never', 'III'][codes[place]]);
    });
  });

  it('is of every level where there are several, and of the number where it is one', () => {
    const stages: Outcome = {
      kind: 'levels',
      levels: ['none', 'some', 'much'],
      ordered: true,
      values: Int32Array.from(rows, (row) => (values[row] > 9 ? 2 : codes[row] === 0 ? 1 : 0)),
    };
    const { predicted } = facetOf(
      fitted('decision-tree', [urea, grade], stages).facets,
      'regions',
    )!;
    expect(predicted.levels).toEqual(['none', 'some', 'much']);
    expect(predicted.values).toHaveLength(3 * 180);
    for (let i = 0; i < 180; i++) {
      const [none, some, much] = predicted.values.slice(3 * i, 3 * i + 3);
      expect(none + some + much).toBeCloseTo(1, 3);
    }
    const numbers: Outcome = { kind: 'number', values: Float64Array.from(rows, (row) => 2 * row) };
    const one = facetOf(fitted('linear', [urea, grade], numbers).facets, 'regions')!;
    expect(one.predicted.kind).toBe('number');
    expect(Math.max(...one.predicted.values)).toBeGreaterThan(2000);
  });

  it('is not drawn of one predictor, of three, or of one that does not vary', () => {
    const still: PredictorColumn = {
      name: 'still',
      type: 'number',
      values: new Float64Array(count).fill(4),
    };
    const more: PredictorColumn = {
      name: 'more',
      type: 'number',
      values: Float64Array.from(rows, () => draw.uniform()),
    };
    for (const predictors of [[urea], [urea, grade, more], [urea, still]])
      expect(facetOf(fitted('decision-tree', predictors).facets, 'regions')).toBeUndefined();
  });
});
