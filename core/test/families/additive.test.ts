import { describe, expect, it } from 'vitest';
import {
  facetOf,
  familyOf,
  settingsSchema,
  type Settings,
  type TermsShown,
} from '../../src/families/index.ts';
import {
  basesAt,
  bending,
  countOf,
  curveOf,
  splineOf,
} from '../../src/families/additive/spline.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { numbersOf, predictionsOf, type Outcome } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';
import { columnsOf, iris } from '../reference/sets.ts';

const family = familyOf('additive');
const fit = (inputs: Inputs, outcome: Outcome, said: Settings = {}, weights?: Float64Array) =>
  family.fit(inputs, outcome, settingsSchema(family.description.settings).parse(said), {
    seed: 1,
    weights,
  });
const termsOf = (result: ReturnType<typeof fit>): TermsShown =>
  facetOf(result.describe().facets, 'terms')!;

describe('an additive model against reference values', () => {
  interface Values {
    smooth_terms: { predictor: string; k: number }[];
    results: {
      linear_terms: { term: string; estimate: number; se: number; p: number }[];
      smooths: { term: string; edf: number; p: number }[];
      deviance_explained: number;
      sigma2: number | null;
      fitted_rows: number[];
      fitted: number[];
      fitted_mean: number;
    };
  }

  // Hosmer & Lemeshow (1989), Applied Logistic Regression; Fisher (1936), Anderson (1935). Computed with
  // another basis, so that values are close, not equal: the tolerances are those that the files state.
  it.each(['additive_birthwt', 'additive_number_birthwt', 'additive_iris'])('%s', (file) => {
    const { smooth_terms, results } = loadValues<Values>(file);
    const isIris = file === 'additive_iris';
    const isNumber = file === 'additive_number_birthwt';
    const lines = results.linear_terms.slice(1).map(({ term }) => term);
    const curves = smooth_terms.map(({ predictor }) => predictor);
    const inputs = columnsOf(isIris ? 'iris' : 'birthwt', [...curves, ...lines]);
    const outcome: Outcome = isNumber
      ? { kind: 'number', values: numbers(loadTable('birthwt'), 'bwt') }
      : {
          kind: 'event',
          values: isIris
            ? Int8Array.from(iris().codes, (code) => Number(code === 1))
            : Int8Array.from(numbers(loadTable('birthwt'), 'low')),
        };
    const result = fit(inputs, outcome, { knots: smooth_terms[0].k, straight: lines });
    expect(result.warnings).toEqual([]);
    const said = numbersOf(result.fitted.predict(inputs));
    const spread = isNumber ? 727 : 1;
    results.fitted_rows.forEach((row, i) =>
      expect(Math.abs(said[row - 1] - results.fitted[i]) / spread).toBeLessThan(0.012),
    );
    const mean = said.reduce((sum, one) => sum + one, 0) / said.length;
    expect(mean / results.fitted_mean).toBeCloseTo(1, 5);
    const terms = termsOf(result);
    results.smooths.forEach(({ edf, p }, k) => {
      expect(Math.abs(terms.curves[k].degrees - edf)).toBeLessThan(0.3);
      expect(Math.abs(Math.log10(terms.curves[k].there.p / p))).toBeLessThan(1);
    });
    for (const { input, estimate, standardError } of terms.lines) {
      const expected = results.linear_terms.find(({ term }) => term === input)!;
      expect(Math.abs(estimate / expected.estimate - 1)).toBeLessThan(0.02);
      expect(Math.abs(standardError! / expected.se - 1)).toBeLessThan(0.02);
    }
    expect(terms.explained).toBeCloseTo(results.deviance_explained, 2);
    if (results.sigma2 !== null) expect(terms.deviation! ** 2 / results.sigma2).toBeCloseTo(1, 2);
  });
});

describe('splines', () => {
  const draw = randomStream(3, 'splines');
  const spline = splineOf(
    Float64Array.from({ length: 200 }, () => draw.normal()),
    10,
  )!;
  const coefficients = Float64Array.from({ length: countOf(spline) }, () => draw.normal());
  const curve = curveOf(spline, coefficients);
  const inside = [-1.4, -0.3, 0.2, 1.1];

  it('have pieces that add up to 1, and slopes and bends as differences say', () => {
    expect(countOf(spline)).toBe(12);
    const sum = (x: number, order: number) => {
      const { first, values } = basesAt(spline, x, order);
      return values.reduce((sum, one, k) => sum + one * coefficients[first + k], 0);
    };
    for (const x of [...inside, spline.knots[0], spline.knots.at(-1)!])
      expect(basesAt(spline, x).values.reduce((sum, one) => sum + one, 0)).toBeCloseTo(1, 12);
    for (const x of inside) {
      const f = (by: number) => curve(x + by);
      expect(sum(x, 1)).toBeCloseTo((f(1e-5) - f(-1e-5)) / 2e-5, 6);
      expect(sum(x, 2)).toBeCloseTo((f(1e-4) - 2 * f(0) + f(-1e-4)) / 1e-8, 4);
    }
  });

  it('are straight beyond their ends, and as bent as the integral of their second derivative squared', () => {
    const end = spline.knots.at(-1)!;
    const [a, b, c] = [1, 2, 3].map((by) => curve(end + by));
    expect(b - a).toBeCloseTo(c - b, 10);
    const form = bending(spline);
    let bent = 0;
    for (let i = 0; i < 12; i++)
      for (let j = 0; j < 12; j++) bent += coefficients[i] * form[i * 12 + j] * coefficients[j];
    const steps = 40_000;
    let integral = 0;
    for (let k = 0; k < steps; k++) {
      const x = spline.knots[0] + ((k + 0.5) / steps) * (end - spline.knots[0]);
      const { first, values } = basesAt(spline, x, 2);
      const second = values.reduce((sum, one, at) => sum + one * coefficients[first + at], 0);
      integral += (second ** 2 * (end - spline.knots[0])) / steps;
    }
    expect(bent / integral).toBeCloseTo(1, 4);
  });

  it('are none where values are too few', () => {
    expect(splineOf(Float64Array.of(1, 2, 1, 2, 3, 3), 10)).toBeUndefined();
  });
});

describe('an additive model', () => {
  const draw = randomStream(7, 'additive');
  const patients = 1500;
  const [a, b, c] = [0, 0, 0].map(() =>
    Float64Array.from({ length: patients }, () => draw.normal()),
  );
  const group = Float64Array.from({ length: patients }, () => Number(draw.uniform() < 0.4));
  const inputs: Inputs = {
    rowCount: patients,
    names: ['a', 'b', 'c', 'group'],
    columns: [a, b, c, group],
  };
  const bow = (x: number) => 1.5 * Math.sin(1.5 * x);
  const linear = a.map((one, i) => bow(one) + 0.8 * b[i] + 0.7 * group[i]);
  const number: Outcome = {
    kind: 'number',
    values: linear.map((one) => 100 + 10 * (one + 0.7 * draw.normal())),
  };
  const event: Outcome = {
    kind: 'event',
    values: Int8Array.from(linear, (one) => Number(draw.uniform() < 1 / (1 + Math.exp(1 - one)))),
  };

  it.each([
    ['likelihood', number, 10],
    ['validation', number, 10],
    ['likelihood', event, 1],
    ['validation', event, 1],
  ] as const)('finds the curves that made the patients, by %s', (smoothness, outcome, unit) => {
    const terms = termsOf(fit(inputs, outcome, { smoothness }));
    const [first, second, third] = terms.curves;
    const at = (curve: TermsShown['curves'][number]) =>
      curve.at.map((x, k) => ({ x, value: curve.values[k] / unit, error: curve.error[k] / unit }));
    // Up to what all have together.
    const near = at(first).filter(({ x }) => Math.abs(x) < 2);
    const shift = near.reduce((sum, { x, value }) => sum + value - bow(x), 0) / near.length;
    for (const { x, value, error } of near)
      expect(Math.abs(value - bow(x) - shift)).toBeLessThan(4 * error + 0.02);
    expect(first.bent!.p).toBeLessThan(1e-6);
    expect(second.there.p).toBeLessThan(1e-6);
    expect(second.degrees).toBeLessThan(4.5);
    expect(
      (second.line[1] - second.line[0]) / unit / (second.at.at(-1)! - second.at[0]),
    ).toBeCloseTo(0.8, 0);
    expect(third.there.p).toBeGreaterThan(0.001);
    expect(terms.lines.map(({ input }) => input)).toEqual(['group']);
    expect(Math.abs(terms.lines[0].estimate / unit - 0.7)).toBeLessThan(0.4);
  });

  it.each([number, event])(
    'never falls, or never rises, where that is wanted ($kind)',
    (outcome) => {
      const result = fit(inputs, outcome, { rising: ['a'], falling: ['b', 'group'] });
      const said = (j: number, x: number) => {
        const columns = inputs.columns.map((column) => Float64Array.of(column[3]));
        columns[j] = Float64Array.of(x);
        return numbersOf(result.fitted.predict({ ...inputs, rowCount: 1, columns }))[0];
      };
      for (const [j, way] of [
        [0, 1],
        [1, -1],
        [3, -1],
      ]) {
        let before = said(j, -6);
        for (let x = -6; x <= 6; x += 0.01) {
          const now = said(j, x);
          expect(way * (now - before)).toBeGreaterThanOrEqual(-1e-12 * Math.abs(now));
          before = now;
        }
      }
      expect(termsOf(result).lines[0].estimate).toBe(0);
    },
  );

  it('gives straight lines where they are wanted: a linear regression', () => {
    const straight = inputs.names;
    const result = fit(inputs, number, { straight });
    const regression = familyOf('linear').fit(inputs, number, {}, { seed: 1 });
    const [one, other] = [result, regression].map(
      ({ fitted }) => predictionsOf(fitted.predict(inputs), 'number').values,
    );
    one.forEach((value, i) => expect(value).toBeCloseTo(other[i], 8));
    expect(termsOf(result).curves).toEqual([]);
  });

  it('says so where a separated outcome lets nothing settle', () => {
    const parted: Outcome = { kind: 'event', values: Int8Array.from(a, (one) => Number(one > 0)) };
    const { warnings, fitted } = fit(inputs, parted);
    expect(warnings.map(({ code }) => code)).toContain('not converged');
    expect(numbersOf(fitted.predict(inputs)).every(Number.isFinite)).toBe(true);
  });
});
