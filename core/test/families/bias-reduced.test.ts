import { describe, expect, it } from 'vitest';
import { ratioTest } from '../../src/families/index.ts';
import type { Settings } from '../../src/families/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import { fitEvent } from './fit-event.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';

const inputsOf = (columns: Record<string, ArrayLike<number>>): Inputs => {
  const arrays = Object.values(columns).map((values) => Float64Array.from(values));
  return { rowCount: arrays[0].length, names: Object.keys(columns), columns: arrays };
};
const reduced: Settings = { estimates: 'reduced' };
const fit = (
  columns: Record<string, ArrayLike<number>>,
  events: ArrayLike<number>,
  settings = reduced,
) => fitEvent('logistic', inputsOf(columns), events, undefined, settings);

interface Values {
  results: {
    coefficients: Record<string, number>;
    standard_errors: Record<string, number>;
    log_likelihood: number;
    penalised_log_likelihood: number;
    half_log_determinant: number;
    profile_penalised_ci95: Record<string, [number, number]>;
    penalised_lr_test: Record<string, { p: number }>;
    probabilities_first10: number[];
    mean_probability: number;
  };
}

function birthwt(
  columns: Record<string, (value: (name: string) => Float64Array) => ArrayLike<number>>,
) {
  const table = loadTable('birthwt');
  const value = (name: string) => numbers(table, name);
  return {
    columns: Object.fromEntries(Object.entries(columns).map(([name, make]) => [name, make(value)])),
    events: value('low'),
  };
}

const plain = (...names: string[]) =>
  Object.fromEntries(
    names.map((name) => [name, (value: (name: string) => Float64Array) => value(name)]),
  );
const isLevel = (name: string, level: number) => (value: (name: string) => Float64Array) =>
  value(name).map((one) => Number(one === level));

describe('bias-reduced logistic regression', () => {
  // Hosmer & Lemeshow (1989), Applied Logistic Regression; in the second, one woman with three
  // premature labours and no event, so that the likeliest coefficient is without end.
  it.each([
    [
      'firth_birthwt',
      birthwt({
        ...plain('age', 'lwt'),
        race2: isLevel('race', 2),
        race3: isLevel('race', 3),
        ...plain('smoke', 'ptl', 'ht', 'ui', 'ftv'),
      }),
    ],
    [
      'firth_birthwt_separated',
      birthwt({ ...plain('age', 'lwt', 'smoke', 'ht'), ptl3: isLevel('ptl', 3) }),
    ],
  ])(
    '%s: coefficients, errors, profile intervals, tests and risks',
    (file, { columns, events }) => {
      const { results } = loadValues<Values>(file);
      const model = fit(columns, events);
      expect(model.warnings).toEqual([]);
      expect(model.byProfile).toBe(true);
      for (const { term, estimate, standardError, p, oddsRatioInterval } of model.coefficients!) {
        const name = term === 'Intercept' ? '(Intercept)' : term;
        expect(estimate).toBeCloseTo(results.coefficients[name], 8);
        expect(standardError).toBeCloseTo(results.standard_errors[name], 8);
        if (term === 'Intercept') continue;
        results.profile_penalised_ci95[term].forEach((end, side) =>
          expect(Math.log(oddsRatioInterval![side])).toBeCloseTo(end, 5),
        );
        expect(p).toBeCloseTo(results.penalised_lr_test[term].p, 6);
      }
      expect(model.likelihood!.logLikelihood).toBeCloseTo(results.log_likelihood, 6);
      const risks = model.predict(inputsOf(columns));
      results.probabilities_first10.forEach((risk, i) => expect(risks[i]).toBeCloseTo(risk, 8));
      const mean = (all: Float64Array) => all.reduce((sum, one) => sum + one, 0) / all.length;
      expect(mean(risks)).toBeCloseTo(results.mean_probability, 8);
      // With the constant set once more, the slopes are the same and the mean risk the share of cases.
      const brought = fit(columns, events, { estimates: 'reduced, true share' });
      expect(mean(brought.predict(inputsOf(columns)))).toBeCloseTo(
        mean(Float64Array.from(events)),
        10,
      );
      brought
        .coefficients!.slice(1)
        .forEach(({ estimate }, j) =>
          expect(estimate).toBeCloseTo(model.coefficients![j + 1].estimate!, 12),
        );
    },
  );

  it('firth_tables: of a table of four cells, the odds ratio after half a patient is added to each', () => {
    interface Tables {
      results: {
        table: { x1_y1: number; x1_y0: number; x0_y1: number; x0_y0: number };
        intercept: number;
        slope: number;
        se_slope: number;
        profile_penalised_ci95_slope: [number, number];
      }[];
    }
    for (const { table, ...expected } of loadValues<Tables>('firth_tables').results) {
      const cells = [
        [1, 1, table.x1_y1],
        [1, 0, table.x1_y0],
        [0, 1, table.x0_y1],
        [0, 0, table.x0_y0],
      ].flatMap(([x, y, count]) => Array.from({ length: count }, () => [x, y]));
      const model = fit(
        { x: cells.map(([x]) => x) },
        cells.map(([, y]) => y),
      );
      const [constant, slope] = model.coefficients!;
      expect(constant.estimate).toBeCloseTo(expected.intercept, 8);
      expect(slope.estimate).toBeCloseTo(expected.slope, 8);
      expect(slope.standardError).toBeCloseTo(expected.se_slope, 8);
      expected.profile_penalised_ci95_slope.forEach((end, side) =>
        expect(Math.log(slope.oddsRatioInterval![side])).toBeCloseTo(end, 5),
      );
      const { x1_y1: a, x1_y0: b, x0_y1: c, x0_y0: d } = table;
      expect(slope.estimate).toBeCloseTo(
        Math.log(((a + 0.5) * (d + 0.5)) / ((b + 0.5) * (c + 0.5))),
        9,
      );
    }
  });

  it('stays finite where one input parts all cases from all others, or there is no case', () => {
    const x = Float64Array.from({ length: 30 }, (_, i) => i);
    const parted = fit(
      { x },
      x.map((value) => Number(value > 14)),
    );
    expect(parted.warnings).toEqual([]);
    const [, { estimate, oddsRatioInterval }] = parted.coefficients!;
    expect(estimate).toBeGreaterThan(0.1);
    expect(estimate).toBeLessThan(2);
    expect(oddsRatioInterval![0]).toBeGreaterThan(1);
    for (const settings of [reduced, { estimates: 'reduced, true share' }]) {
      const risks = fit({ x }, new Float64Array(30), settings).predict(inputsOf({ x }));
      expect(risks.every((risk) => risk > 0 && risk < 0.2)).toBe(true);
    }
  });

  it('leaves out what repeats another input, and comes with Wald’s figures where patients are many', () => {
    const draw = randomStream(6, 'many');
    const a = Float64Array.from({ length: 9000 }, () => draw.normal());
    const others = Object.fromEntries(
      Array.from({ length: 14 }, (_, j) => [`b${j}`, a.map(() => draw.normal())]),
    );
    const events = a.map((value) => Number(draw.uniform() < 1 / (1 + Math.exp(2 - value))));
    const model = fit({ a, twice: a.map((value) => 2 * value), ...others }, events);
    expect(model.warnings.map(({ sentence }) => sentence).join(' ')).toContain('twice');
    expect(model.byProfile).toBeUndefined();
    const likeliest = fit({ a, ...others }, events, { estimates: 'likeliest' });
    model.coefficients!.forEach(({ term, estimate, p }, j) => {
      expect(term).toBe(likeliest.coefficients![j].term);
      // The correction is of the order of one in the number of cases.
      expect(estimate).toBeCloseTo(likeliest.coefficients![j].estimate!, 1);
      expect(Math.abs(p! - likeliest.coefficients![j].p!)).toBeLessThan(0.02);
    });
    const shown = (one: typeof model) => ({
      inputs: ['a', ...Object.keys(others)],
      facets: [{ kind: 'likelihood' as const, value: one.likelihood! }],
    });
    // What was not made greatest is not compared.
    expect(ratioTest(shown(likeliest), { ...shown(model), inputs: ['a'] })).toBeUndefined();
  });
});
