import { describe, expect, it } from 'vitest';
import { facetOf, familyOf, settingsSchema, type Settings } from '../../src/families/index.ts';
import { followPath, strongest, type PathTask } from '../../src/families/penalised/path.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { predictionsOf, type Outcome } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';

const family = familyOf('penalised');
const fit = (inputs: Inputs, outcome: Outcome, said: Settings = {}, weights?: Float64Array) =>
  family.fit(inputs, outcome, settingsSchema(family.description.settings).parse(said), {
    seed: 1,
    weights,
  });
const inputsOf = (columns: Record<string, ArrayLike<number>>): Inputs => {
  const arrays = Object.values(columns).map((values) => Float64Array.from(values));
  return { rowCount: arrays[0].length, names: Object.keys(columns), columns: arrays };
};
const coefficientsOf = (fitted: ReturnType<typeof fit>) =>
  (fitted.fitted.save().json as { coefficients: number[][] }).coefficients;

interface Point {
  alpha: number;
  lam: number;
  objective: number;
  intercept: number;
  coefficients: Record<string, number>;
}

/** Hosmer & Lemeshow (1989), Applied Logistic Regression: nine inputs. */
function birthwt() {
  const table = loadTable('birthwt');
  const own = (name: string) => numbers(table, name);
  const isRace = (level: number) => own('race').map((race) => Number(race === level));
  const inputs = inputsOf({
    age: own('age'),
    lwt: own('lwt'),
    race2: isRace(2),
    race3: isRace(3),
    smoke: own('smoke'),
    ptl: own('ptl'),
    ht: own('ht'),
    ui: own('ui'),
    ftv: own('ftv'),
  });
  const low: Outcome = { kind: 'event', values: Int8Array.from(own('low')) };
  const weight: Outcome = { kind: 'number', values: own('bwt') };
  return { inputs, low, weight };
}

describe('penalised regression against reference values', () => {
  const { inputs, low, weight } = birthwt();

  it.each([
    ['penalised_birthwt', low, 1],
    ['penalised_linear_birthwt', weight, 1000],
  ] as const)(
    '%s: coefficients at each strength and mix, none where there is none',
    (file, outcome, unit) => {
      const values = loadValues<{
        lambda_max_lasso: number;
        lambda_max_alpha05: number;
        results: Point[];
      }>(file);
      const strongestBy = (mix: number) => strongest({ inputs, outcome, mix });
      expect(strongestBy(1) / values.lambda_max_lasso).toBeCloseTo(1, 10);
      expect(strongestBy(0.5) / values.lambda_max_alpha05).toBeCloseTo(1, 10);
      for (const { alpha, lam, intercept, coefficients } of values.results) {
        const said = { mix: alpha, strengthBy: 'given', strength: lam };
        const [[constant, ...slopes]] = coefficientsOf(fit(inputs, outcome, said));
        expect(Math.abs(constant - intercept)).toBeLessThan(1e-6 * unit);
        inputs.names.forEach((name, j) => {
          expect(Math.abs(slopes[j] - coefficients[name])).toBeLessThan(1e-6 * unit);
          expect(slopes[j] === 0).toBe(coefficients[name] === 0);
        });
      }
    },
  );

  // Fisher (1936), Anderson (1935).
  it('penalised_multinomial_iris: every level has coefficients of its own', () => {
    const table = loadTable('iris');
    const names = ['Sepal.Length', 'Sepal.Width', 'Petal.Length', 'Petal.Width'];
    const species = table.columns[table.dictionary.findIndex(({ name }) => name === 'Species')];
    if (species.type !== 'coded') throw new Error('Species should be a category.');
    const iris = inputsOf(Object.fromEntries(names.map((name) => [name, numbers(table, name)])));
    const levels = ['setosa', 'versicolor', 'virginica'];
    const outcome: Outcome = {
      kind: 'levels',
      levels,
      ordered: false,
      values: species.codes.map((code) => levels.indexOf(species.levels[code])),
    };
    const { results, lambda_max_lasso } = loadValues<{
      lambda_max_lasso: number;
      results: {
        alpha: number;
        lam: number;
        intercepts: Record<string, number>;
        coefficients: Record<string, Record<string, number>>;
        rows: number[];
        probabilities: number[][];
      }[];
    }>('penalised_multinomial_iris');
    const task = { inputs: iris, outcome, mix: 1 };
    expect(strongest(task) / lambda_max_lasso).toBeCloseTo(1, 10);
    for (const { alpha, lam, coefficients, rows, probabilities } of results) {
      const fitted = fit(iris, outcome, { mix: alpha, strengthBy: 'given', strength: lam });
      coefficientsOf(fitted).forEach(([, ...slopes], level) =>
        names.forEach((name, j) =>
          expect(Math.abs(slopes[j] - coefficients[levels[level]][name])).toBeLessThan(2e-6),
        ),
      );
      const { shares } = predictionsOf(fitted.fitted.predict(iris), 'levels');
      rows.forEach((row, i) =>
        probabilities[i].forEach((share, level) =>
          expect(shares[3 * (row - 1) + level]).toBeCloseTo(share, 6),
        ),
      );
    }
  });
});
