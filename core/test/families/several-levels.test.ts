import { describe, expect, it } from 'vitest';
import { facetOf, familyOf, type Coefficient } from '../../src/families/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { predictionsOf, type Outcome } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';
import { defaultsOf } from './fit-event.ts';

type Columns = Record<string, ArrayLike<number>>;

function inputsOf(columns: Columns): Inputs {
  const arrays = Object.values(columns).map((values) => Float64Array.from(values));
  return { rowCount: arrays[0].length, names: Object.keys(columns), columns: arrays };
}

function levelsOf(codes: ArrayLike<number>, levels: string[]): Outcome<'levels'> {
  return { kind: 'levels', values: Int32Array.from(codes), levels, ordered: true };
}

function fit(id: string, columns: Columns, outcome: Outcome, reference?: string) {
  const family = familyOf(id);
  const {
    fitted,
    warnings,
    describe: show,
  } = family.fit(inputsOf(columns), outcome, defaultsOf(family), { seed: 1, reference });
  const described = show();
  return {
    warnings: [...warnings, ...described.warnings],
    facets: described.facets,
    groups: facetOf(described.facets, 'coefficients')!.groups,
    likelihood: facetOf(described.facets, 'likelihood')!,
    shares: predictionsOf(fitted.predict(inputsOf(columns)), 'levels').shares,
  };
}

function close(actual: number | undefined, expected: number, tolerance = 1e-6) {
  expect(Math.abs(actual! - expected)).toBeLessThanOrEqual(tolerance * Math.abs(expected));
}

const line = (lines: Coefficient[], term: string) => lines.find((one) => one.term === term)!;

/** Fleming & Harrington (1991): the patients of the liver trial whose stage is known. */
function stages() {
  const table = loadTable('pbc', (dictionary) => {
    for (const entry of dictionary) if (entry.name === 'sex') entry.kind = 'category';
  });
  const stage = numbers(table, 'stage');
  const rows = Array.from(stage.keys()).filter((row) => !Number.isNaN(stage[row]));
  const sex = table.columns[table.dictionary.findIndex(({ name }) => name === 'sex')];
  if (sex.type !== 'coded') throw new Error('Sex should be a category.');
  const take = (name: string) => rows.map((row) => numbers(table, name)[row]);
  const columns = {
    age: take('age'),
    lb: take('bili').map(Math.log),
    male: rows.map((row) => Number(sex.levels[sex.codes[row]] === 'm')),
  };
  const outcome = levelsOf(
    rows.map((row) => stage[row] - 1),
    ['1', '2', '3', '4'],
  );
  return { columns, outcome, albumin: take('albumin') };
}

interface EquationValues {
  level: number;
  coefficients: Record<string, number>;
  standard_errors: Record<string, number>;
  z: Record<string, number>;
  p: Record<string, number>;
}

interface MultinomialValues {
  results: {
    n: number;
    log_likelihood: number;
    null_log_likelihood: number;
    aic: number;
    bic: number;
    equations: EquationValues[];
    predicted_probabilities_first5: number[][];
  };
}

describe('multinomial logistic regression against reference values', () => {
  const elections = () => {
    // American National Election Study 1996: seven levels of party identification.
    const table = loadTable('anes96');
    const names = ['logpopul', 'selfLR', 'age', 'educ', 'income'];
    const columns = Object.fromEntries(names.map((name) => [name, numbers(table, name)]));
    return {
      columns,
      outcome: levelsOf(numbers(table, 'PID'), ['0', '1', '2', '3', '4', '5', '6']),
    };
  };

  it.each([
    ['multinomial_anes96', elections],
    ['multinomial_pbc_stage', stages],
  ])('%s: coefficients, errors, tests and likelihood', (file, data) => {
    const { results } = loadValues<MultinomialValues>(file);
    const { columns, outcome } = data();
    const { groups, likelihood, shares, warnings } = fit('multinomial', columns, outcome);
    expect(warnings).toEqual([]);
    expect(groups.length).toBe(results.equations.length);
    results.equations.forEach((equation, k) => {
      for (const [term, estimate] of Object.entries(equation.coefficients)) {
        const found = line(groups[k].lines, term === 'const' ? 'Intercept' : term);
        close(found.estimate, estimate);
        close(found.standardError, equation.standard_errors[term]);
        close(found.z, equation.z[term]);
        close(found.p, equation.p[term], 1e-5);
        close(found.oddsRatio, Math.exp(estimate));
      }
    });
    close(likelihood.logLikelihood, results.log_likelihood, 1e-9);
    close(likelihood.nullDeviance, -2 * results.null_log_likelihood, 1e-7);
    close(likelihood.aic, results.aic, 1e-9);
    close(likelihood.bic, results.bic, 1e-9);
    results.predicted_probabilities_first5
      .flat()
      .forEach((share, i) => expect(Math.abs(shares[i] - share)).toBeLessThan(1e-7));
  });

  it('with another reference level gives the same shares and likelihood, and turns the signs', () => {
    const { columns, outcome } = stages();
    const first = fit('multinomial', columns, outcome, '1');
    const last = fit('multinomial', columns, outcome, '4');
    expect(last.groups.map(({ title }) => title)).toEqual([
      '1 against 4',
      '2 against 4',
      '3 against 4',
    ]);
    close(last.likelihood.logLikelihood, first.likelihood.logLikelihood, 1e-11);
    last.shares.forEach((share, i) => expect(Math.abs(share - first.shares[i])).toBeLessThan(1e-8));
    const fourAgainstOne = line(first.groups[2].lines, 'lb').estimate!;
    close(line(last.groups[0].lines, 'lb').estimate, -fourAgainstOne, 1e-7);
  });

  it('with the levels in another order gives the shares in that order', () => {
    const { columns, outcome } = stages();
    const turned = [2, 0, 3, 1];
    const other = levelsOf(
      outcome.values.map((code) => turned.indexOf(code)),
      turned.map((code) => outcome.levels[code]),
    );
    const plain = fit('multinomial', columns, outcome).shares;
    const shares = fit('multinomial', columns, other).shares;
    for (let i = 0; i < 412; i++)
      turned.forEach((code, k) =>
        expect(Math.abs(shares[4 * i + k] - plain[4 * i + code])).toBeLessThan(1e-8),
      );
  });

  it('of two levels is logistic regression', () => {
    const table = loadTable('birthwt');
    const columns = { age: numbers(table, 'age'), lwt: numbers(table, 'lwt') };
    const low = numbers(table, 'low');
    const two = fit('multinomial', columns, levelsOf(low, ['no', 'yes']));
    const family = familyOf('logistic');
    const one = family.fit(
      inputsOf(columns),
      { kind: 'event', values: Int8Array.from(low) },
      defaultsOf(family),
      { seed: 1 },
    );
    const lines = facetOf(one.describe().facets, 'coefficients')!.groups[0].lines;
    for (const { term, estimate, standardError } of lines) {
      close(line(two.groups[0].lines, term).estimate, estimate!, 1e-8);
      close(line(two.groups[0].lines, term).standardError, standardError!, 1e-8);
    }
  });

  it('of a large cohort rests at the maximum: shares sum to the counts of each level', () => {
    const draw = randomStream(4, 'large levels');
    const n = 24_000;
    const x = Float64Array.from({ length: n }, () => draw.normal());
    const z = Float64Array.from({ length: n }, () => 40 + 5 * draw.normal());
    const codes = Array.from(x, (value, i) => {
      const linear = value + 0.1 * (z[i] - 40) + 1.5 * draw.normal();
      return linear > 2 ? 2 : linear > 0 ? 1 : 0;
    });
    const { shares } = fit('multinomial', { x, z }, levelsOf(codes, ['a', 'b', 'c']));
    for (const level of [0, 1, 2])
      for (const column of [new Float64Array(n).fill(1), x, z]) {
        let score = 0;
        for (let i = 0; i < n; i++)
          score += column[i] * (Number(codes[i] === level) - shares[3 * i + level]);
        expect(Math.abs(score)).toBeLessThan(1e-5);
      }
  });
});

describe('proportional odds against reference values', () => {
  interface OrdinalValues {
    results: {
      coefficients: Record<string, number>;
      standard_errors: Record<string, number>;
      z: Record<string, number>;
      p: Record<string, number>;
      odds_ratio_ci95_wald: Record<string, [number, number]>;
      thresholds: Record<string, number>;
      threshold_standard_errors: Record<string, number>;
      log_likelihood: number;
      null_log_likelihood: number;
      aic: number;
      bic: number;
      parameters: number;
      probabilities_first5: number[][];
      brant: {
        omnibus: { chi2: number; df: number; p: number };
        per_predictor: Record<string, { chi2: number; df: number; p: number }>;
      };
    };
  }
  const { results } = loadValues<OrdinalValues>('ordinal_pbc_stage');
  const { columns, outcome, albumin } = stages();
  const found = fit('proportional-odds', { ...columns, albumin }, outcome);
  const [slopes, thresholds] = found.groups;

  it('ordinal_pbc_stage: slopes, thresholds, their errors and the likelihood', () => {
    expect(found.warnings).toEqual([]);
    for (const [term, estimate] of Object.entries(results.coefficients)) {
      const row = line(slopes.lines, term);
      close(row.estimate, estimate);
      close(row.standardError, results.standard_errors[term]);
      close(row.z, results.z[term]);
      close(row.p, results.p[term], 1e-5);
      results.odds_ratio_ci95_wald[term].forEach((end, i) => close(row.oddsRatioInterval![i], end));
    }
    Object.entries(results.thresholds).forEach(([name, value], k) => {
      expect(thresholds.lines[k].term).toBe(name.replace('|', ' | '));
      close(thresholds.lines[k].estimate, value);
      close(thresholds.lines[k].standardError, results.threshold_standard_errors[name]);
    });
    close(found.likelihood.logLikelihood, results.log_likelihood, 1e-9);
    close(found.likelihood.nullDeviance, -2 * results.null_log_likelihood, 1e-9);
    close(found.likelihood.aic, results.aic, 1e-9);
    close(found.likelihood.bic, results.bic, 1e-9);
    results.probabilities_first5
      .flat()
      .forEach((share, i) => expect(Math.abs(found.shares[i] - share)).toBeLessThan(1e-7));
  });

  it('ordinal_pbc_stage: the test of proportionality (Brant 1990), of all and of each', () => {
    const { overall, inputs } = facetOf(found.facets, 'proportionality')!;
    close(overall.chiSquare, results.brant.omnibus.chi2);
    expect(overall.degrees).toBe(results.brant.omnibus.df);
    close(overall.p, results.brant.omnibus.p);
    for (const { input, chiSquare, degrees, p } of inputs) {
      const expected = results.brant.per_predictor[input];
      close(chiSquare, expected.chi2);
      expect(degrees).toBe(expected.df);
      close(p, expected.p);
    }
  });

  it('warns where a predictor weighs differently at the thresholds, and says which', () => {
    const draw = randomStream(6, 'unlike thresholds');
    const n = 1500;
    const x = Float64Array.from({ length: n }, () => draw.normal());
    const same = Float64Array.from({ length: n }, () => draw.normal());
    // x tells the first step and nothing of the second.
    const codes = Array.from(x, (value, i) => {
      const first = draw.uniform() < 1 / (1 + Math.exp(-2 * value - same[i]));
      return first ? 1 + Number(draw.uniform() < 1 / (1 + Math.exp(1 - same[i]))) : 0;
    });
    const { warnings } = fit('proportional-odds', { x, same }, levelsOf(codes, ['a', 'b', 'c']));
    expect(warnings).toMatchObject([{ code: 'thresholds differ' }]);
    expect(warnings[0].inputs).toContain('x');
  });

  it('turned upside down turns its slopes', () => {
    const upside = levelsOf(
      outcome.values.map((code) => 3 - code),
      [...outcome.levels].reverse(),
    );
    const turned = fit('proportional-odds', { ...columns, albumin }, upside);
    close(turned.likelihood.logLikelihood, found.likelihood.logLikelihood, 1e-11);
    for (const { term, estimate } of slopes.lines)
      close(line(turned.groups[0].lines, term).estimate, -estimate!, 1e-7);
  });
});

describe('separation of several levels (Albert & Anderson 1984, Biometrika 71:1-10)', () => {
  const irises = (species: string[]) => {
    const table = loadTable('iris', (dictionary) => {
      for (const entry of dictionary) if (entry.name === 'Species') entry.kind = 'category';
    });
    const names = table.dictionary.map(({ name }) => name).filter((name) => name !== 'Species');
    const column = table.columns[table.dictionary.findIndex(({ name }) => name === 'Species')];
    if (column.type !== 'coded') throw new Error('Species should be a category.');
    const { codes, levels } = column;
    const rows = Array.from(codes.keys()).filter((row) => species.includes(levels[codes[row]]));
    return {
      columns: Object.fromEntries(
        names.map((name) => [name, rows.map((row) => numbers(table, name)[row])]),
      ),
      outcome: levelsOf(
        rows.map((row) => species.indexOf(levels[codes[row]])),
        species,
      ),
    };
  };

  it('is found in Fisher’s irises, where setosa stands apart, and leaves no huge coefficient', () => {
    const { columns, outcome } = irises(['setosa', 'versicolor', 'virginica']);
    const { warnings, groups } = fit('multinomial', columns, outcome);
    expect(warnings).toMatchObject([{ code: 'separation' }]);
    for (const { lines } of groups)
      for (const { estimate } of lines)
        if (estimate !== undefined) expect(Math.abs(estimate)).toBeLessThan(200);
    // One slope for both steps is held by the step that overlaps.
    expect(
      fit('proportional-odds', columns, outcome).warnings.map(({ code }) => code),
    ).not.toContain('separation');
    expect(warnings[0].sentence).toMatch(
      /Petal.Length alone parts the patients with level setosa, who have the low values/,
    );
  });

  it('is not found where versicolor and virginica overlap', () => {
    const { columns, outcome } = irises(['versicolor', 'virginica']);
    for (const id of ['multinomial', 'proportional-odds'])
      expect([id, fit(id, columns, outcome).warnings]).toEqual([id, []]);
  });

  it('is found and named where a ward has none of a level', () => {
    const draw = randomStream(8, 'no level');
    const n = 3000;
    const x = Float64Array.from({ length: n }, () => draw.normal());
    const ward = Float64Array.from({ length: n }, () => Number(draw.uniform() < 0.1));
    const codes = Array.from(x, (value, i) => {
      const linear = value + 2 * draw.normal();
      return linear > 1 ? (ward[i] ? 1 : 2) : linear > -0.5 ? 1 : 0;
    });
    const { warnings, groups } = fit(
      'multinomial',
      { x, 'ward = X': ward },
      levelsOf(codes, ['none', 'mild', 'severe']),
    );
    expect(warnings).toMatchObject([{ code: 'separation', inputs: ['ward = X'] }]);
    expect(warnings[0].sentence).toMatch(/None of the \d+ patients with ward = X has level severe/);
    expect(line(groups[1].lines, 'ward = X')).toEqual({ term: 'ward = X' });
    expect(line(groups[0].lines, 'ward = X').estimate).toBeDefined();
    expect(line(groups[1].lines, 'x').standardError).toBeLessThan(0.2);
  });

  it('is complete where one number puts the levels in order', () => {
    const codes = Array.from({ length: 60 }, (_, i) => Math.floor(i / 20));
    const x = codes.map((code, i) => code * 10 + (i % 7));
    for (const id of ['multinomial', 'proportional-odds']) {
      const { warnings } = fit(id, { x }, levelsOf(codes, ['a', 'b', 'c']));
      expect([id, warnings.map(({ code }) => code)]).toEqual([id, ['separation']]);
    }
  });
});
