import { describe, expect, it } from 'vitest';
import { facetOf, familyOf, settingsSchema, type Settings } from '../../src/families/index.ts';
import { outputsOf } from '../../src/families/neural-network/layers.ts';
import {
  networkRoom,
  parametersOf,
  randomStream,
  type NetworkTask,
} from '../../src/numeric/index.ts';
import { predictionsOf, type Outcome } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import { iris } from '../reference/sets.ts';

const family = familyOf('neural-network');
const fit = (inputs: Inputs, outcome: Outcome, said: Settings = {}, weights?: Float64Array) =>
  family.fit(inputs, outcome, settingsSchema(family.description.settings).parse(said), {
    seed: 1,
    weights,
  });

/** Two numbers of which one alone says nothing: cases are where both are high or both low. */
function crossed(patients: number) {
  const draw = randomStream(4, 'crossed');
  const [a, b] = [0, 0].map(() => Float64Array.from({ length: patients }, () => draw.normal()));
  const inputs: Inputs = { rowCount: patients, names: ['a', 'b'], columns: [a, b] };
  const product = a.map((one, i) => one * b[i]);
  return { inputs, product };
}

describe('slopes of a network', () => {
  const draw = randomStream(9, 'slopes');
  const patients = 29;
  const cases = (['event', 'levels', 'number'] as const).flatMap((kind) =>
    [[4], [3, 2]].map((hidden) => ({ kind, hidden })),
  );

  it.each(cases)(
    '$kind, hidden units $hidden: as differences of the loss say',
    ({ kind, hidden }) => {
      const outputs = kind === 'levels' ? 3 : 1;
      const sizes = [5, ...hidden, outputs];
      const outcome = Float64Array.from({ length: patients }, () =>
        kind === 'number' ? draw.normal() : Math.floor((kind === 'event' ? 2 : 3) * draw.uniform()),
      );
      const task: NetworkTask = {
        rows: Float64Array.from({ length: 5 * patients }, () => draw.normal()),
        outcome,
        weights: Float64Array.from({ length: patients }, () => 0.5 + draw.uniform()),
        kind,
        sizes,
      };
      const room = networkRoom(task);
      expect(room.parameters.length).toBe(parametersOf(sizes));
      room.parameters.forEach((_, k) => (room.parameters[k] = 0.7 * draw.normal()));
      const order = Int32Array.from({ length: patients }, (_, i) => i);
      const gradient = room.gradient(order);
      const lossAt = (parameters: Float64Array) => {
        const said = outputsOf(sizes, parameters, task.rows, patients);
        let sum = 0;
        for (let row = 0; row < patients; row++) {
          const own = said.subarray(row * outputs, (row + 1) * outputs);
          const y = outcome[row];
          const loss =
            kind === 'number'
              ? (own[0] - y) ** 2 / 2
              : kind === 'event'
                ? Math.log1p(Math.exp(own[0])) - y * own[0]
                : Math.log(own.reduce((sum, one) => sum + Math.exp(one), 0)) - own[y];
          sum += task.weights[row] * loss;
        }
        return sum / patients;
      };
      gradient.forEach((slope, k) => {
        const moved = (by: number) =>
          lossAt(room.parameters.slice().fill(room.parameters[k] + by, k, k + 1));
        const difference =
          (8 * (moved(1e-4) - moved(-1e-4)) - (moved(2e-4) - moved(-2e-4))) / 12e-4;
        expect(Math.abs(slope - difference)).toBeLessThan(1e-6);
      });
      // What is said while learning is what is said when asked.
      const given = room.given(order);
      const said = outputsOf(sizes, room.parameters.slice(), task.rows, patients);
      order.forEach((row) => {
        const own = [...said.subarray(row * outputs, (row + 1) * outputs)];
        const y = outcome[row];
        const expected =
          kind === 'number'
            ? (own[0] - y) ** 2
            : kind === 'event'
              ? 1 / (1 + Math.exp(y === 1 ? -own[0] : own[0]))
              : Math.exp(own[y]) / own.reduce((sum, one) => sum + Math.exp(one), 0);
        expect(given[row]).toBeCloseTo(expected, 12);
      });
    },
  );
});

describe('a neural network', () => {
  it('finds what no sum of predictors can say, and stops where others fare best', () => {
    const { inputs, product } = crossed(1500);
    const outcome: Outcome = {
      kind: 'event',
      values: Int8Array.from(product, (one) => Number(one > 0)),
    };
    const result = fit(inputs, outcome, { units: 8 });
    const { risks } = predictionsOf(result.fitted.predict(inputs), 'event');
    const right = risks.filter((risk, i) => risk > 0.5 === product[i] > 0).length;
    expect(right / 1500).toBeGreaterThan(0.93);
    const { facets } = result.describe();
    const { lines, at, chosen } = facetOf(facets, 'curve')!;
    const [learned, watched] = lines;
    expect([learned.whose, watched.whose]).toEqual(['learned from', 'inner fold']);
    expect(watched.values[at.indexOf(chosen)]).toBe(Math.min(...watched.values));
    expect(watched.values[0]).toBeGreaterThan(2 * Math.min(...watched.values));
    const network = facetOf(facets, 'network')!;
    expect(network.sizes).toEqual([2, 8, 1]);
    expect(network.parameters.length).toBe(8 * 3 + 9);
    expect(network.epochs).toBe(chosen);
  });

  it('follows a curve of a number, in the outcome’s own unit', () => {
    const { inputs, product } = crossed(1200);
    const values = product.map((one) => 900 + 40 * one);
    const result = fit(inputs, { kind: 'number', values }, { units: 10, decay: 0.001, starts: 1 });
    const said = predictionsOf(result.fitted.predict(inputs), 'number').values;
    const left = said.reduce((sum, one, i) => sum + (one - values[i]) ** 2, 0) / 1200;
    const mean = values.reduce((sum, one) => sum + one, 0) / 1200;
    const all = values.reduce((sum, one) => sum + (one - mean) ** 2, 0) / 1200;
    expect(1 - left / all).toBeGreaterThan(0.9);
    // The loss of the watched is squared errors of the outcome itself.
    const { plain, lines } = facetOf(result.describe().facets, 'curve')!;
    expect(plain! / all).toBeGreaterThan(0.7);
    expect(plain! / all).toBeLessThan(1.4);
    expect(Math.min(...lines[1].values) / left).toBeGreaterThan(0.5);
    expect(Math.min(...lines[1].values) / left).toBeLessThan(3);
  });

  // Fisher (1936), Anderson (1935).
  it('tells the three species of iris apart', () => {
    const { inputs, outcome, codes } = iris();
    const { shares } = predictionsOf(
      fit(inputs, outcome, { early: false, epochs: 200, starts: 1 }).fitted.predict(inputs),
      'levels',
    );
    const right = [...codes].filter((code, row) => {
      const own = [...shares.subarray(3 * row, 3 * row + 3)];
      return own.indexOf(Math.max(...own)) === code;
    });
    expect(right.length).toBeGreaterThan(144);
  });

  it('is drawn to what all have by a strong decay, and says what all have where nothing helps', () => {
    const { inputs, product } = crossed(400);
    const draw = randomStream(8, 'chance');
    const strong = fit(
      inputs,
      { kind: 'event', values: Int8Array.from(product, (one) => Number(one > 0.3)) },
      { decay: 10, early: false },
    );
    const { risks } = predictionsOf(strong.fitted.predict(inputs), 'event');
    expect(Math.max(...risks) - Math.min(...risks)).toBeLessThan(0.05);
    const chance: Outcome = {
      kind: 'event',
      values: Int8Array.from(product, () => Number(draw.uniform() < 0.4)),
    };
    const said = fit(inputs, chance, { rate: 0.5, units: 40, decay: 0 });
    const share = chance.values.reduce((sum, one) => sum + one, 0) / 400;
    expect(said.warnings.map(({ code }) => code)).toEqual(['no split']);
    predictionsOf(said.fitted.predict(inputs), 'event').risks.forEach((risk) =>
      expect(risk).toBeCloseTo(share, 10),
    );
  });

  it('says so where the loss was still falling at the last epoch', () => {
    const { inputs, product } = crossed(600);
    const values = Int8Array.from(product, (one) => Number(one > 0));
    const { warnings, describe } = fit(inputs, { kind: 'event', values }, { epochs: 8, starts: 1 });
    expect(warnings.map(({ sentence }) => sentence)).toEqual([
      'The loss in the patients set aside was still falling after 8 epochs: allow more.',
    ]);
    expect(facetOf(describe().facets, 'network')!.ended).toBe('at the last');
  });

  it('gives patients of more weight more to say, and other weights to other seeds alone', () => {
    const { inputs, product } = crossed(500);
    const values = Int8Array.from(product, (one) => Number(one > 0));
    const outcome: Outcome = { kind: 'event', values };
    const meanWith = (weights?: Float64Array) => {
      const said = fit(inputs, outcome, { starts: 1, early: false, epochs: 40 }, weights);
      const { risks } = predictionsOf(said.fitted.predict(inputs), 'event');
      return risks.reduce((sum, one) => sum + one, 0) / 500;
    };
    const plain = meanWith();
    expect(meanWith(new Float64Array(500).fill(3))).toBeCloseTo(plain, 9);
    const cases = Float64Array.from(values, (value) => (value === 1 ? 6 : 1));
    expect(meanWith(cases)).toBeGreaterThan(plain + 0.03);
  });
});
