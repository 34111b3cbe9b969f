import { describe, expect, it } from 'vitest';
import { familyOf, type Saved } from '../../src/families/index.ts';
import { predictionsOf } from '../../src/outcome/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import { fitEvent } from './fit-event.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';

const fit = (
  columns: Record<string, ArrayLike<number>>,
  events: ArrayLike<number>,
  weights?: Float64Array,
) => fitEvent('logistic', inputs(columns), events, weights);

function inputs(columns: Record<string, ArrayLike<number>>): Inputs {
  const arrays = Object.values(columns).map((values) => Float64Array.from(values));
  return { rowCount: arrays[0].length, names: Object.keys(columns), columns: arrays };
}

interface LogisticValues {
  results: {
    terms: string[];
    coefficients: Record<string, number>;
    standard_errors: Record<string, number>;
    z: Record<string, number>;
    p: Record<string, number>;
    odds_ratio: Record<string, number>;
    odds_ratio_wald_ci95: Record<string, [number, number]>;
    log_likelihood: number;
    null_deviance: number;
    null_df: number;
    residual_deviance: number;
    residual_df: number;
    aic: number;
  };
}

const indicator = (values: ArrayLike<number>, level: number) =>
  Array.from(values, (value) => Number(value === level));

function birthwt() {
  const table = loadTable('birthwt');
  const { age, lwt, smoke, ptl, ht, ui, ftv, race, low } = Object.fromEntries(
    table.dictionary.map((entry) => [entry.name, numbers(table, entry.name)]),
  );
  const columns = {
    age,
    lwt,
    race2: indicator(race, 2),
    race3: indicator(race, 3),
    smoke,
    ptl,
    ht,
    ui,
    ftv,
  };
  return { columns, events: low };
}

function spector() {
  const table = loadTable('spector');
  const columns = {
    GPA: numbers(table, 'GPA'),
    TUCE: numbers(table, 'TUCE'),
    PSI: numbers(table, 'PSI'),
  };
  return { columns, events: numbers(table, 'GRADE') };
}

function infert() {
  const table = loadTable('infert');
  const education = table.columns[table.dictionary.findIndex((e) => e.name === 'education')];
  if (education.type !== 'coded') throw new Error('education should be a category');
  const level = (name: string) => indicator(education.codes, education.levels.indexOf(name));
  const columns = {
    age: numbers(table, 'age'),
    parity: numbers(table, 'parity'),
    'education6-11yrs': level('6-11yrs'),
    'education12+ yrs': level('12+ yrs'),
    spontaneous: numbers(table, 'spontaneous'),
    induced: numbers(table, 'induced'),
  };
  return { columns, events: numbers(table, 'case') };
}

/** Equal to six digits: |a - b| <= 1e-6 |b|. */
function close(actual: number, expected: number, tolerance = 1e-6) {
  expect(Math.abs(actual - expected)).toBeLessThanOrEqual(tolerance * Math.abs(expected));
}

describe('logistic regression against reference values', () => {
  it.each([
    // Hosmer & Lemeshow (1989), Applied Logistic Regression: low birth weight.
    ['logistic_birthwt', birthwt],
    // Spector & Mazzeo (1980), J Econ Educ 11:37-44; the example of Greene, Econometric Analysis.
    ['logistic_spector', spector],
    // Trichopoulos et al. (1976), Br J Obstet Gynaecol 83:645-650, without the matching.
    ['logistic_infert', infert],
  ])('%s: coefficients, errors, tests, deviances and AIC to 1e-6', (file, data) => {
    const { results } = loadValues<LogisticValues>(file);
    const { columns, events } = data();
    const model = fit(columns, events);
    expect(model.warnings).toEqual([]);
    for (const row of model.coefficients!) {
      const term = row.term === 'Intercept' ? '(Intercept)' : row.term;
      close(row.estimate!, results.coefficients[term]);
      close(row.standardError!, results.standard_errors[term]);
      close(row.z!, results.z[term]);
      close(row.p!, results.p[term]);
      close(row.oddsRatio!, results.odds_ratio[term]);
      close(row.oddsRatioInterval![0], results.odds_ratio_wald_ci95[term][0]);
      close(row.oddsRatioInterval![1], results.odds_ratio_wald_ci95[term][1]);
    }
    expect(model.coefficients!.length).toBe(results.terms.length);
    const summary = model.likelihood!;
    close(summary.logLikelihood, results.log_likelihood);
    close(summary.nullDeviance, results.null_deviance);
    close(summary.residualDeviance, results.residual_deviance);
    close(summary.aic, results.aic);
    expect(summary.nullDegrees).toBe(results.null_df);
    expect(summary.residualDegrees).toBe(results.residual_df);
  });

  it('gives the coefficients printed in Greene, Econometric Analysis (GPA 2.826, TUCE 0.095, PSI 2.379)', () => {
    const { columns, events } = spector();
    const printed = fit(columns, events).coefficients!.map((row) =>
      Number(row.estimate!.toFixed(3)),
    );
    expect(printed).toEqual([-13.021, 2.826, 0.095, 2.379]);
  });
});

describe('a grouped table', () => {
  // Breslow & Day (1980), Statistical Methods in Cancer Research, vol. 1: cases and controls a row.
  it('logistic_esoph_grouped: a row that stands for many gives what so many rows would', () => {
    const { results } = loadValues<
      LogisticValues & {
        results: { bernoulli_log_likelihood: number; bernoulli_null_log_likelihood: number };
      }
    >('logistic_esoph_grouped');
    const table = loadTable('esoph', (dictionary) => {
      for (const entry of dictionary) if (entry.name.endsWith('gp')) entry.kind = 'category';
    });
    const place = (name: string) => {
      const column = table.columns[table.dictionary.findIndex((entry) => entry.name === name)];
      if (column.type !== 'coded') throw new Error(`${name} should be coded.`);
      const order = [...column.levels].sort(
        (a, b) => Number.parseInt(a, 10) - Number.parseInt(b, 10),
      );
      return Array.from(column.codes, (code) => order.indexOf(column.levels[code]));
    };
    const ages = ['35-44', '45-54', '55-64', '65-74', '75+'];
    const twice = (values: number[]) => [...values, ...values];
    const agegp = twice(place('agegp'));
    const columns = {
      ...Object.fromEntries(ages.map((age, k) => [`agegp${age}`, indicator(agegp, k + 1)])),
      tob: twice(place('tobgp')).map((score) => score + 1),
      alc: twice(place('alcgp')).map((score) => score + 1),
    };
    const [cases, controls] = [numbers(table, 'ncases'), numbers(table, 'ncontrols')];
    const model = fit(
      columns,
      [...cases].map(() => 1).concat([...controls].map(() => 0)),
      Float64Array.of(...cases, ...controls),
    );
    for (const { term, estimate, standardError } of model.coefficients!) {
      const name = term === 'Intercept' ? '(Intercept)' : term;
      close(estimate!, results.coefficients[name], 1e-7);
      close(standardError!, results.standard_errors[name], 1e-7);
    }
    const { likelihood } = model;
    expect([likelihood!.patients, likelihood!.events]).toEqual([975, 200]);
    close(likelihood!.logLikelihood, results.bernoulli_log_likelihood, 1e-9);
    close(likelihood!.nullDeviance, -2 * results.bernoulli_null_log_likelihood, 1e-9);
  });
});

describe('separation (Albert & Anderson 1984, Biometrika 71:1-10)', () => {
  const sequence = [1, 2, 3, 4, 5, 6];
  const separated = (columns: Record<string, ArrayLike<number>>, events: ArrayLike<number>) =>
    fit(columns, events).warnings.some((warning) => warning.code === 'separation');

  it.each([
    ['complete', sequence, [0, 0, 0, 1, 1, 1], true],
    ['quasi-complete at a shared value', [1, 2, 3, 3, 4, 5], [0, 0, 0, 1, 1, 1], true],
    ['quasi-complete in an indicator', [0, 0, 0, 0, 1, 1, 1, 1], [0, 1, 1, 0, 1, 1, 1, 1], true],
    ['none', sequence, [0, 1, 0, 1, 0, 1], false],
  ])('%s', (_name, x, y, expected) => {
    expect(separated({ x }, y)).toBe(expected);
  });

  it.each([
    [50_000, 1],
    [50_000, 3],
    [60_000, 10],
    [200_000, 2],
  ])('is found and named in a cohort of %i with a level of %i', (patients, few) => {
    const draw = randomStream(7, `rare ${patients} ${few}`);
    const age = Float64Array.from({ length: patients }, () => draw.normal());
    const events = Array.from(age, (x) => Number(draw.uniform() < 1 / (1 + Math.exp(2 - x))));
    const others = Array.from(events.keys()).filter((row) => events[row] === 0);
    const rare = new Float64Array(patients);
    for (const row of others.slice(100, 100 + few)) rare[row] = 1;
    const common = Float64Array.from({ length: patients }, () => Number(draw.uniform() < 0.3));
    const { warnings } = fit({ age, 'ward = X': rare, common }, events);
    expect(warnings).toHaveLength(1);
    expect(warnings[0]).toMatchObject({ code: 'separation', inputs: ['ward = X'] });
    expect(warnings[0].sentence).toContain(
      few === 1
        ? 'The one patient with ward = X does not'
        : `None of the ${few} patients with ward = X`,
    );
    // With one patient on the other side there is a maximum, however far out.
    const [some] = [...events.keys()].filter((row) => events[row] === 1);
    const mixed = rare.slice();
    mixed[some] = 1;
    expect(fit({ age, 'ward = X': mixed, common }, events).warnings).toEqual([]);
  });

  it('of several inputs together is found, and says which and in how many', () => {
    const draw = randomStream(5, 'together');
    const a = Float64Array.from({ length: 300 }, () => draw.normal());
    const b = Float64Array.from({ length: 300 }, () => draw.normal());
    const noise = Float64Array.from({ length: 300 }, () => draw.normal());
    const events = Array.from(a, (x, i) => Number(x + b[i] > 0.2));
    const [warning] = fit({ a, b, noise }, events).warnings;
    expect(warning.code).toBe('separation');
    expect(new Set(warning.inputs!.slice(0, 2))).toEqual(new Set(['a', 'b']));
    expect(warning.sentence).toContain('300 patients');
  });

  it('is not mistaken for risks that are very low or very high', () => {
    const draw = randomStream(5, 'steep');
    const x = Float64Array.from({ length: 4000 }, () => draw.normal());
    const events = Array.from(x, (value) =>
      Number(draw.uniform() < 1 / (1 + Math.exp(-12 * value))),
    );
    const { warnings, coefficients } = fit({ x }, events);
    expect(warnings).toEqual([]);
    expect(coefficients![1].estimate).toBeGreaterThan(9);
  });

  it('leaves no ratio that JSON has no word for: what comes back is what was sent', () => {
    const { coefficients } = fit({ x: sequence }, [0, 0, 0, 1, 1, 1]);
    expect(JSON.parse(JSON.stringify(coefficients))).toEqual(coefficients);
    expect(coefficients![1].oddsRatioInterval).toBeUndefined();
  });

  it('is found in Fisher’s irises for setosa, and not for virginica against versicolor', () => {
    const table = loadTable('iris', (dictionary) => {
      for (const entry of dictionary) if (entry.name === 'Species') entry.kind = 'category';
    });
    const names = table.dictionary.map((entry) => entry.name);
    const species = table.columns[names.indexOf('Species')];
    if (species.type !== 'coded') throw new Error('Species should be a category');
    const measures = names.filter((name) => name !== 'Species');
    const rowsFrom = (start: number) =>
      Object.fromEntries(measures.map((name) => [name, numbers(table, name).slice(start)]));
    const is = (level: string, start: number) =>
      indicator(species.codes, species.levels.indexOf(level)).slice(start);
    expect(separated(rowsFrom(0), is('setosa', 0))).toBe(true);
    expect(separated(rowsFrom(50), is('virginica', 50))).toBe(false);
  });

  it('is not reported for the birth weight and urine designs, which have none', () => {
    const { columns, events } = birthwt();
    expect(separated(columns, events)).toBe(false);
    const urine = loadTable('urine');
    const names = ['gravity', 'ph', 'osmo', 'cond', 'urea', 'calc'];
    const complete = Array.from(numbers(urine, 'r').keys()).filter((row) =>
      names.every((name) => !Number.isNaN(numbers(urine, name)[row])),
    );
    expect(complete.length).toBe(77);
    const rows = (name: string) => complete.map((row) => numbers(urine, name)[row]);
    expect(separated(Object.fromEntries(names.map((n) => [n, rows(n)])), rows('r'))).toBe(false);
  });
});

describe('logistic regression on awkward inputs', () => {
  it('leaves out an input that repeats others, names it, and predicts as without it', () => {
    const { columns, events } = birthwt();
    const twice = Array.from(columns.age, (age) => 2 * age + 1);
    const model = fit({ ...columns, twice }, events);
    const plain = fit(columns, events);
    expect(model.warnings).toEqual([
      { code: 'left out', sentence: 'Left out because it repeats other inputs: twice.' },
    ]);
    expect(model.coefficients!.map((row) => row.term)).not.toContain('twice');
    close(model.likelihood!.aic, plain.likelihood!.aic, 1e-12);
    const risks = model.predict(inputs({ ...columns, twice }));
    plain.predict(inputs(columns)).forEach((risk, i) => close(risks[i], risk, 1e-9));
  });

  it('counts whole weights as repeated patients', () => {
    const { columns, events } = spector();
    const weights = Float64Array.from(events, (_, i) => 1 + (i % 3));
    const repeat = (values: ArrayLike<number>) =>
      Array.from(values).flatMap((value, i) => new Array<number>(weights[i]).fill(value));
    const repeated = Object.fromEntries(
      Object.entries(columns).map(([name, values]) => [name, repeat(values)]),
    );
    const weighted = fit(columns, events, weights);
    const expanded = fit(repeated, repeat(events));
    weighted.coefficients!.forEach((row, j) => {
      close(row.estimate!, expanded.coefficients![j].estimate!, 1e-9);
      close(row.standardError!, expanded.coefficients![j].standardError!, 1e-9);
    });
  });

  it('gives the share of events when no input varies', () => {
    const model = fit({ constant: [4, 4, 4, 4] }, [1, 0, 0, 0]);
    expect(model.predict(inputs({ constant: [4] }))[0]).toBeCloseTo(0.25, 12);
    expect(model.warnings.map((warning) => warning.code)).toEqual(['left out']);
  });

  it('gives identical risks after a JSON round trip', () => {
    const { columns, events } = birthwt();
    const model = fit(columns, events);
    const saved = JSON.parse(JSON.stringify(model.save())) as Saved;
    const again = familyOf('logistic').revive(saved).predict(inputs(columns));
    expect(predictionsOf(again, 'event').risks).toEqual(model.predict(inputs(columns)));
  });
});

describe('logistic regression of a large cohort', () => {
  it('reaches the maximum: the score is zero and the numbers are those of the same patients weighted', () => {
    const draw = randomStream(3, 'large');
    const n = 24_000;
    const x = Float64Array.from({ length: n }, () => draw.normal());
    const z = Float64Array.from({ length: n }, () => 40 + 5 * draw.normal());
    const events = Array.from(x, (value, i) =>
      Number(draw.uniform() < 1 / (1 + Math.exp(3 - value - 0.1 * (z[i] - 40)))),
    );
    const model = fit({ x, z }, events);
    const risks = model.predict(inputs({ x, z }));
    const score = (values: ArrayLike<number>) =>
      risks.reduce((sum, risk, i) => sum + values[i] * (events[i] - risk), 0);
    for (const values of [new Float64Array(n).fill(1), x, z])
      expect(Math.abs(score(values))).toBeLessThan(1e-6);
    const unit = new Float64Array(n).fill(1);
    const weighted = fit({ x, z }, events, unit);
    model.coefficients!.forEach((row, j) => {
      close(row.estimate!, weighted.coefficients![j].estimate!, 1e-10);
      close(row.standardError!, weighted.coefficients![j].standardError!, 1e-10);
    });
    close(model.likelihood!.nullDeviance, weighted.likelihood!.nullDeviance, 1e-12);
  });
});
