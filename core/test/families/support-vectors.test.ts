import { describe, expect, it } from 'vitest';
import {
  facetOf,
  familyOf,
  settingsSchema,
  type FitContext,
  type Settings,
} from '../../src/families/index.ts';
import { coupled } from '../../src/families/support-vectors/coupled.ts';
import { alikeRows, type Likeness } from '../../src/families/support-vectors/likeness.ts';
import { decide, followNumber, partSides } from '../../src/families/support-vectors/machine.ts';
import { fitSigmoid, riskBy } from '../../src/families/support-vectors/sigmoid.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { predictionsOf, type Outcome } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';
import { columnsOf, iris, standardised } from '../reference/sets.ts';

const family = familyOf('support-vectors');
const fit = (
  inputs: Inputs,
  outcome: Outcome,
  said: Settings = {},
  context: Partial<FitContext> = {},
) =>
  family.fit(inputs, outcome, settingsSchema(family.description.settings).parse(said), {
    seed: 1,
    ...context,
  });

/** Patient after patient, from columns with mean 0 and SD 1. */
function rowsOf(columns: Float64Array[]): Float64Array {
  const scaled = columns.map(standardised);
  const rows = new Float64Array(columns.length * columns[0].length);
  for (let i = 0; i < rows.length; i++)
    rows[i] = scaled[i % columns.length][Math.floor(i / columns.length)];
  return rows;
}

const likenessOf = (kernel: string, gamma: number | null): Likeness =>
  kernel === 'linear' ? { shape: 'linear' } : { shape: 'radial', narrowness: gamma! };
const everybody = (count: number) => Int32Array.from({ length: count }, (_, i) => i);

describe('support vectors against reference values', () => {
  interface Border {
    dual_objective_minimised: number;
    rho: number;
    n_support_vectors: number;
    n_at_bound: number;
  }

  // Andrews & Herzberg (1985), Data.
  it('svm_urine: objective, border, supports and decision values', () => {
    const inputs = columnsOf('urine', ['r', 'gravity', 'ph', 'osmo', 'cond', 'urea', 'calc']);
    const [cases, ...columns] = inputs.columns;
    const { results } = loadValues<{
      results: (Border & {
        kernel: string;
        C: number;
        gamma: number | null;
        support_rows: number[];
        decision_values_first10: number[];
      })[];
    }>('svm_urine');
    const rows = rowsOf(columns);
    const all = everybody(inputs.rowCount);
    for (const expected of results) {
      const alike = alikeRows(rows, 6, likenessOf(expected.kernel, expected.gamma));
      const sides = Int8Array.from(cases, (one) => (one === 1 ? 1 : -1));
      const most = new Float64Array(inputs.rowCount).fill(expected.C);
      const machine = partSides(alike, all, sides, most)!;
      expect(machine.settled).toBe(true);
      expect(machine.objective / expected.dual_objective_minimised).toBeCloseTo(1, 6);
      expect(machine.offset).toBeCloseTo(-expected.rho, 5);
      expect(machine.supports.length).toBe(expected.n_support_vectors);
      expect(machine.atMost).toBe(expected.n_at_bound);
      expect([...machine.supports].map((row) => row + 1)).toEqual(expected.support_rows);
      const said = decide(alike, machine, all);
      expected.decision_values_first10.forEach((one, i) => expect(said[i]).toBeCloseTo(one, 5));
    }
  });

  // Fisher (1936), Anderson (1935).
  it('svm_iris: a border for each pair of species', () => {
    const { inputs, codes, levels } = iris();
    const rows = rowsOf(inputs.columns);
    const { results } = loadValues<{
      results: {
        kernel: string;
        C: number;
        gamma: number | null;
        pairs: (Border & { positive: string; negative: string })[];
        rows: number[];
        decision_values: { values: number[][] };
      }[];
    }>('svm_iris');
    for (const { kernel, C, gamma, pairs, rows: asked, decision_values } of results) {
      const alike = alikeRows(rows, 4, likenessOf(kernel, gamma));
      pairs.forEach((pair, place) => {
        const [one, other] = [pair.positive, pair.negative].map((level) => levels.indexOf(level));
        const patients = everybody(150).filter((row) => [one, other].includes(codes[row]));
        const sides = Int8Array.from(patients, (row) => (codes[row] === one ? 1 : -1));
        const machine = partSides(alike, patients, sides, new Float64Array(100).fill(C))!;
        expect(machine.objective / pair.dual_objective_minimised).toBeCloseTo(1, 6);
        expect(machine.offset).toBeCloseTo(-pair.rho, 4);
        const said = decide(
          alike,
          machine,
          Int32Array.from(asked, (row) => row - 1),
        );
        decision_values.values.forEach((own, i) => expect(said[i]).toBeCloseTo(own[place], 4));
      });
    }
  });

  // Hosmer & Lemeshow (1989), Applied Logistic Regression.
  it('svr_birthwt: objective, offset, what each adds, and predictions', () => {
    const table = loadTable('birthwt');
    const value = (name: string) => numbers(table, name);
    const race = value('race');
    const columns = [
      value('age'),
      value('lwt'),
      ...[2, 3].map((level) => race.map((one) => Number(one === level))),
      ...['smoke', 'ptl', 'ht', 'ui', 'ftv'].map(value),
    ];
    const rows = rowsOf(columns);
    const wanted = standardised(value('bwt'));
    const { results } = loadValues<{
      results: {
        kernel: string;
        C: number;
        gamma: number | null;
        epsilon: number;
        dual_objective_minimised: number;
        b: number;
        n_support_vectors: number;
        coefficients_beta_first10: number[];
        predictions_scaled_first10: number[];
      }[];
    }>('svr_birthwt');
    for (const expected of results) {
      const alike = alikeRows(rows, 9, likenessOf(expected.kernel, expected.gamma));
      const most = new Float64Array(189).fill(expected.C);
      const machine = followNumber(alike, everybody(189), wanted, most, expected.epsilon);
      expect(machine.objective / expected.dual_objective_minimised).toBeCloseTo(1, 6);
      expect(machine.offset).toBeCloseTo(expected.b, 4);
      expect(machine.supports.length).toBe(expected.n_support_vectors);
      expected.coefficients_beta_first10.forEach((one, row) => {
        const place = machine.supports.indexOf(row);
        expect(place < 0 ? 0 : machine.adds[place]).toBeCloseTo(one, 4);
      });
      const said = decide(alike, machine, everybody(10));
      expected.predictions_scaled_first10.forEach((one, i) => expect(said[i]).toBeCloseTo(one, 4));
    }
  });

  it('sigmoid_decision_values: risks from decision values', () => {
    const { results } = loadValues<{
      results: {
        decision_values: number[];
        y: number[];
        A: number;
        B: number;
        probabilities: number[];
      }[];
    }>('sigmoid_decision_values');
    for (const { decision_values: values, y, probabilities } of results) {
      const sigmoid = fitSigmoid(values, y);
      values.forEach((value, i) => expect(riskBy(sigmoid, value)).toBeCloseTo(probabilities[i], 6));
    }
  });
});

describe('support vectors', () => {
  const draw = randomStream(6, 'supports');
  const patients = 300;
  const [a, b] = [0, 0].map(() => Float64Array.from({ length: patients }, () => draw.normal()));
  const inputs: Inputs = { rowCount: patients, names: ['a', 'b'], columns: [a, b] };
  /** Cases lie in a ring, which no straight border parts. */
  const ring: Outcome<'event'> = {
    kind: 'event',
    values: Int8Array.from(a, (one, i) => Number(one ** 2 + b[i] ** 2 + 0.3 * draw.normal() > 2)),
  };
  const risksOf = (result: ReturnType<typeof fit>) =>
    predictionsOf(result.fitted.predict(inputs), 'event').risks;
  const loss = (risks: Float64Array) =>
    risks.reduce((sum, risk, i) => sum + (risk - ring.values[i]) ** 2, 0) / patients;

  it('bend their border where it must be, radially or by products', () => {
    const [straight, radial, products] = ['linear', 'radial', 'polynomial'].map((shape) =>
      loss(risksOf(fit(inputs, ring, { shape }))),
    );
    expect(radial).toBeLessThan(straight / 2);
    expect(products).toBeLessThan(straight / 2);
  });

  it('show their margin: how many support it, and where patients of inner folds lie', () => {
    const margin = facetOf(fit(inputs, ring).describe().facets, 'margin')!;
    const [machine] = margin.machines;
    expect(machine.pair).toEqual(['no', 'yes']);
    expect(machine.supports).toBeGreaterThan(machine.atMost);
    expect(machine.supports).toBeLessThan(patients);
    expect(machine.densities!.map(({ length }) => length)).toEqual([97, 97]);
    expect(machine.sigmoid!.slope).toBeLessThan(0);
    // The median distance between all pairs, by hand.
    const distances: number[] = [];
    const [x, y] = [standardised(a), standardised(b)];
    for (let i = 0; i < patients; i++)
      for (let k = 0; k < i; k++) distances.push(Math.hypot(x[i] - x[k], y[i] - y[k]));
    distances.sort((one, other) => one - other);
    expect(margin.width).toBeCloseTo(distances[distances.length >> 1], 9);
    const given = fit(inputs, ring, { widthBy: 'given', width: margin.width! });
    expect(risksOf(given)).toEqual(risksOf(fit(inputs, ring)));
  });

  it('let a side that costs more have fewer on the wrong side, by the design’s costs or by how many there are', () => {
    const pick = (said: Settings, context: Partial<FitContext> = {}) =>
      facetOf(fit(inputs, ring, { shape: 'linear', ...said }, context).describe().facets, 'margin')!
        .machines[0];
    const costs = [
      [0, 1],
      [9, 0],
    ];
    const share = ring.values.reduce((sum, one) => sum + one, 0) / patients;
    const balanced = [
      [0, share],
      [1 - share, 0],
    ];
    const plain = pick({ sides: 'alike' });
    // Without costs there is nothing to enter.
    expect(pick({ sides: 'error costs' })).toEqual(plain);
    expect(pick({ sides: 'error costs' }, { costs })).not.toEqual(plain);
    const same = pick({ sides: 'error costs' }, { costs: balanced });
    const other = pick({ sides: 'balanced' });
    expect(same.supports).toBe(other.supports);
    expect(same.sigmoid!.slope).toBeCloseTo(other.sigmoid!.slope, 6);
  });

  it('say what all have where only one side is there', () => {
    const nobody: Outcome = { kind: 'event', values: new Int8Array(patients) };
    const result = fit(inputs, nobody);
    expect(risksOf(result)).toEqual(new Float64Array(patients));
    expect(result.describe().facets).toEqual([]);
    // Three levels of which one has nobody: its share is as good as none.
    const levels: Outcome = {
      kind: 'levels',
      levels: ['low', 'middle', 'high'],
      ordered: true,
      values: Int32Array.from(a, (one) => (one > 0 ? 2 : 0)),
    };
    const { shares } = predictionsOf(fit(inputs, levels).fitted.predict(inputs), 'levels');
    for (let row = 0; row < patients; row++) expect(shares[3 * row + 1]).toBeLessThan(1e-5);
    expect(shares[3 * a.indexOf(Math.max(...a)) + 2]).toBeGreaterThan(0.9);
  });

  it('follow a number, and ignore who lies within the tube', () => {
    const values = a.map((one, i) => 500 + 30 * (Math.sin(2 * one) + 0.5 * b[i]));
    const outcome: Outcome = { kind: 'number', values };
    const near = fit(inputs, outcome, { cost: 10, tube: 0.05 });
    const said = predictionsOf(near.fitted.predict(inputs), 'number').values;
    const off = said.reduce((sum, one, i) => sum + (one - values[i]) ** 2, 0) / patients;
    expect(Math.sqrt(off)).toBeLessThan(8);
    const supports = (tube: number) =>
      facetOf(fit(inputs, outcome, { cost: 10, tube }).describe().facets, 'margin')!.machines[0]
        .supports;
    expect(supports(1)).toBeLessThan(supports(0.05) / 2);
  });
});

describe('shares of levels from pairs', () => {
  it('are those that the pairs come from, where they agree, and least apart where they do not', () => {
    const shares = [0.2, 0.5, 0.3];
    const pairs = Float64Array.from({ length: 9 }, (_, at) => {
      const [i, j] = [Math.floor(at / 3), at % 3];
      return shares[i] / (shares[i] + shares[j]);
    });
    coupled(pairs, 3).forEach((share, k) => expect(share).toBeCloseTo(shares[k], 12));
    // The first beats the second, the second the third, the third the first: nobody wins.
    const circle = Float64Array.of(0, 0.8, 0.2, 0.2, 0, 0.8, 0.8, 0.2, 0);
    coupled(circle, 3).forEach((share) => expect(share).toBeCloseTo(1 / 3, 12));
  });
});
