import { describe, expect, it } from 'vitest';
import { facetOf, familyOf } from '../../src/families/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { predictionsOf } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';

type Columns = Record<string, ArrayLike<number>>;

function inputsOf(columns: Columns): Inputs {
  const arrays = Object.values(columns).map((values) => Float64Array.from(values));
  return { rowCount: arrays[0].length, names: Object.keys(columns), columns: arrays };
}

function fit(columns: Columns, values: ArrayLike<number>, weights?: Float64Array) {
  const outcome = { kind: 'number' as const, values: Float64Array.from(values) };
  const inputs = inputsOf(columns);
  const result = familyOf('linear').fit(inputs, outcome, {}, { seed: 1, weights });
  const { facets } = result.describe();
  return {
    warnings: result.warnings,
    fitted: result.fitted,
    lines: facetOf(facets, 'coefficients')!.groups[0].lines,
    variance: facetOf(facets, 'variance')!,
    predicted: predictionsOf(result.fitted.predict(inputs), 'number').values,
  };
}

function close(actual: number | undefined, expected: number, tolerance: number) {
  expect(Math.abs(actual! - expected)).toBeLessThanOrEqual(tolerance * Math.abs(expected));
}

interface OlsValues {
  results: {
    coefficients: Record<string, number>;
    standard_errors: Record<string, number>;
    t: Record<string, number>;
    p: Record<string, number>;
    ci95: Record<string, [number, number]>;
    residual_sd: number;
    r2: number;
    adj_r2: number;
    f: number;
    f_df: [number, number];
    f_p: number;
    log_likelihood: number;
    aic_k_with_sigma: number;
    fitted_first5: number[];
    vif: Record<string, number>;
  };
  nist_certified?: {
    coefficients: Record<string, number>;
    standard_errors: Record<string, number>;
    residual_sd: number;
    r2: number;
    f: number;
  };
}

/** Longley (1967), JASA 62:819-841: badly conditioned; certified by NIST StRD. */
function longley() {
  const table = loadTable('longley');
  const names = ['GNPDEFL', 'GNP', 'UNEMP', 'ARMED', 'POP', 'YEAR'];
  const columns = Object.fromEntries(names.map((name) => [name, numbers(table, name)]));
  return { columns, values: numbers(table, 'TOTEMP') };
}

/** Turck et al. (2010), Intensive Care Med 36:107-115. */
function bleeding() {
  const table = loadTable('aSAH', (dictionary) => {
    for (const entry of dictionary) if (entry.name === 'gender') entry.kind = 'category';
  });
  const gender = table.columns[table.dictionary.findIndex(({ name }) => name === 'gender')];
  if (gender.type !== 'coded') throw new Error('Gender should be a category.');
  const columns = {
    age: numbers(table, 'age'),
    male: Array.from(gender.codes, (code) => Number(gender.levels[code] === 'Male')),
    wfns: numbers(table, 'wfns'),
    ndka: numbers(table, 'ndka'),
  };
  return { columns, values: numbers(table, 's100b') };
}

/** Hosmer & Lemeshow (1989), Applied Logistic Regression: birth weight in grams. */
function weights() {
  const table = loadTable('birthwt');
  const race = numbers(table, 'race');
  const is = (level: number) => Array.from(race, (value) => Number(value === level));
  const take = (name: string) => numbers(table, name);
  const columns = {
    age: take('age'),
    lwt: take('lwt'),
    race2: is(2),
    race3: is(3),
    smoke: take('smoke'),
    ptl: take('ptl'),
    ht: take('ht'),
    ui: take('ui'),
    ftv: take('ftv'),
  };
  return { columns, values: take('bwt') };
}

describe('linear regression against reference values', () => {
  it.each([
    ['ols_longley', longley, 1e-9],
    ['ols_aSAH', bleeding, 1e-9],
  ])(
    '%s: coefficients, errors, tests, intervals, variance and inflation',
    (file, data, tolerance) => {
      const { results } = loadValues<OlsValues>(file);
      const { columns, values } = data();
      const { lines, variance, predicted, warnings } = fit(columns, values);
      expect(warnings).toEqual([]);
      for (const row of lines) {
        const term = row.term === 'Intercept' ? '(Intercept)' : row.term;
        close(row.estimate, results.coefficients[term], tolerance);
        close(row.standardError, results.standard_errors[term], tolerance);
        close(row.t, results.t[term], tolerance);
        close(row.p, results.p[term], 1e-8);
        results.ci95[term].forEach((end, i) => close(row.interval![i], end, 1e-8));
        if (row.term !== 'Intercept' && results.vif) close(row.inflation, results.vif[term], 1e-8);
      }
      close(variance.residualStandardError, results.residual_sd, tolerance);
      close(variance.rSquared, results.r2, tolerance);
      close(variance.adjustedRSquared, results.adj_r2, tolerance);
      close(variance.f!.value, results.f, 1e-8);
      expect(variance.f!.degrees).toEqual(results.f_df);
      close(variance.f!.p, results.f_p, 1e-7);
      close(variance.logLikelihood, results.log_likelihood, tolerance);
      close(variance.aic, results.aic_k_with_sigma, tolerance);
      results.fitted_first5.forEach((value, i) => close(predicted[i], value, tolerance));
    },
  );

  it('longley agrees with the certified values of NIST StRD to ten digits', () => {
    const certified = loadValues<OlsValues>('ols_longley').nist_certified!;
    const { columns, values } = longley();
    const { lines, variance } = fit(columns, values);
    for (const row of lines) {
      const term = row.term === 'Intercept' ? '(Intercept)' : row.term;
      close(row.estimate, certified.coefficients[term], 1e-10);
      close(row.standardError, certified.standard_errors[term], 1e-10);
    }
    close(variance.residualStandardError, certified.residual_sd, 1e-10);
    close(variance.f!.value, certified.f, 1e-10);
  });

  interface WeightedValues {
    results: {
      name: string;
      sum_of_weights: number;
      df_residual: number;
      coefficients: Record<string, number>;
      standard_errors: Record<string, number>;
      sigma: number;
      r_squared: number;
      log_likelihood: number;
      aic_sigma_counted: number;
      predictions: { x: Record<string, number>; fit: number; prediction95: [number, number] }[];
    }[];
  }
  const rules: Record<string, (row: number) => number> = {
    'no weights': () => 1,
    'weights 1 to 3': (row) => 1 + ((row + 1) % 3),
    'with zero weights': (row) => (row + 1) % 4,
  };

  it.each(Object.keys(rules))(
    'ols_weighted_birthwt, %s: a weight counts as so many rows',
    (name) => {
      const { columns, values } = weights();
      const expected = loadValues<WeightedValues>('ols_weighted_birthwt').results.find(
        (one) => one.name === name,
      )!;
      const given = Float64Array.from(values, (_, row) => rules[name](row));
      const { lines, variance, fitted } = fit(columns, values, given);
      for (const row of lines) {
        const term = row.term === 'Intercept' ? '(Intercept)' : row.term;
        close(row.estimate, expected.coefficients[term], 1e-8);
        close(row.standardError, expected.standard_errors[term], 1e-8);
      }
      expect(variance.patients).toBe(expected.sum_of_weights);
      expect(variance.residualDegrees).toBe(expected.df_residual);
      close(variance.residualStandardError, expected.sigma, 1e-8);
      close(variance.rSquared, expected.r_squared, 1e-8);
      close(variance.logLikelihood, expected.log_likelihood, 1e-9);
      close(variance.aic, expected.aic_sigma_counted, 1e-9);
      for (const { x, fit: value, prediction95 } of expected.predictions) {
        const one = inputsOf(
          Object.fromEntries(Object.keys(columns).map((name) => [name, [x[name]]])),
        );
        close(predictionsOf(fitted.predict(one), 'number').values[0], value, 1e-8);
        const ends = fitted.intervals!(one);
        prediction95.forEach((end, i) => close(ends[i], end, 1e-8));
      }
    },
  );
});

describe('linear regression on awkward inputs', () => {
  it('says that nothing is left to judge by where there are as many coefficients as patients', () => {
    const { warnings, lines, fitted } = fit({ x: [1, 2], constant: [5, 5] }, [3, 9]);
    expect(warnings.map(({ code }) => code)).toEqual(['left out', 'not converged']);
    expect(lines.map(({ estimate }) => estimate!.toFixed(9))).toEqual([
      '-3.000000000',
      '6.000000000',
    ]);
    expect(lines.every(({ p }) => p === undefined)).toBe(true);
    expect('intervals' in fitted).toBe(false);
  });

  it('leaves residuals that no input tells anything of, in a large cohort too', () => {
    const draw = randomStream(2, 'residuals');
    const n = 30_000;
    const columns: Columns = Object.fromEntries(
      Array.from({ length: 8 }, (_, j) => [
        `x${j}`,
        Float64Array.from({ length: n }, () => 1000 * j + draw.normal()),
      ]),
    );
    const values = Float64Array.from(
      { length: n },
      (_, i) => 7 + 3 * columns.x2[i] + draw.normal(),
    );
    const { predicted, lines } = fit(columns, values);
    expect(Math.abs(line(lines, 'x2') - 3)).toBeLessThan(0.03);
    for (const column of Object.values(columns)) {
      let sum = 0;
      for (let i = 0; i < n; i++) sum += (column[i] - column[0]) * (values[i] - predicted[i]);
      expect(Math.abs(sum)).toBeLessThan(1e-4);
    }
  });

  it('gives a large cohort what as many weights of one give, and is not misled where inputs are nearly the same', () => {
    const draw = randomStream(9, 'two ways');
    const n = 6000;
    const x = Float64Array.from({ length: n }, () => 50 + draw.normal());
    const z = Float64Array.from({ length: n }, () => draw.normal());
    const values = x.map((one, i) => 2 * one - z[i] + draw.normal());
    // The first 4,000 go through the triangle, all of them through the sums.
    const few = (column: Float64Array) => column.slice(0, 4000);
    const whole = fit({ x, z }, values);
    const twice = fit(
      { x: few(x), z: few(z) },
      few(values),
      Float64Array.from({ length: 4000 }, (_, i) => (i < 2000 ? 2 : 1)),
    );
    const repeated = (column: Float64Array) =>
      Float64Array.of(...few(column), ...few(column).slice(0, 2000));
    const same = fit({ x: repeated(x), z: repeated(z) }, repeated(values));
    for (const { term, estimate, standardError } of twice.lines) {
      const other = same.lines.find((one) => one.term === term)!;
      close(other.estimate, estimate!, 1e-10);
      close(other.standardError, standardError!, 1e-10);
    }
    expect(whole.variance.patients).toBe(n);
    const nearly = x.map((one) => one + 1e-6 * draw.normal());
    const hard = fit({ x, z, nearly }, values);
    expect(hard.warnings).toEqual([]);
    close(line(hard.lines, 'x') + line(hard.lines, 'nearly'), line(whole.lines, 'x'), 1e-3);
    expect(hard.lines.find(({ term }) => term === 'nearly')!.inflation).toBeGreaterThan(1e10);
  });

  const line = (lines: { term: string; estimate?: number }[], term: string) =>
    lines.find((one) => one.term === term)!.estimate!;
});
