import { describe, expect, it } from 'vitest';
import {
  facetOf,
  familyOf,
  FitObstacle,
  settingsSchema,
  type Settings,
} from '../../src/families/index.ts';
import { bordersOf, placesOf, type Grid } from '../../src/families/discriminants/borders.ts';
import { cloudsOf, momentsOf } from '../../src/families/discriminants/clouds.ts';
import { directionsOf } from '../../src/families/discriminants/directions.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { predictionsOf, type Outcome } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import { loadValues } from '../reference/load.ts';
import { iris } from '../reference/sets.ts';

const family = familyOf('discriminants');
const fit = (inputs: Inputs, outcome: Outcome, said: Settings = {}) =>
  family.fit(inputs, outcome, settingsSchema(family.description.settings).parse(said), { seed: 1 });

describe('discriminants against reference values', () => {
  const { inputs, outcome, levels, codes } = iris();
  const moments = momentsOf(inputs.columns, { codes, levels: 3 });
  const sharesOf = (said: Settings) =>
    predictionsOf(fit(inputs, outcome, said).fitted.predict(inputs), 'levels').shares;

  it('lda_iris: means, common covariance, shares of both shapes, and how much each direction parts', () => {
    const { results } = loadValues<{
      results: {
        means: number[][];
        pooled_covariance: number[][];
        canonical_f_eigenvalues: number[];
        proportion_of_trace: number[];
        rows: number[];
        lda_posterior: number[][];
        qda_posterior: number[][];
      };
    }>('lda_iris');
    results.means.forEach((own, level) =>
      own.forEach((mean, j) => expect(moments.means[level][j]).toBeCloseTo(mean, 10)),
    );
    results.pooled_covariance
      .flat()
      .forEach((value, at) => expect(moments.within[at]).toBeCloseTo(value, 10));
    const linear = sharesOf({});
    const quadratic = sharesOf({ shape: 'quadratic', pooled: 0 });
    results.rows.forEach((row, i) =>
      levels.forEach((_, level) => {
        const at = 3 * (row - 1) + level;
        // On the scale of logarithms, for shares come to nearly none.
        expect(Math.log(linear[at])).toBeCloseTo(Math.log(results.lda_posterior[i][level]), 6);
        expect(Math.log(quadratic[at])).toBeCloseTo(Math.log(results.qda_posterior[i][level]), 6);
      }),
    );
    const directions = directionsOf(moments);
    expect(directions.map(({ share }) => Number(share.toFixed(9)))).toEqual(
      results.proportion_of_trace.map((share) => Number(share.toFixed(9))),
    );
    // Scores have a variance of 1 within levels, and do not go together there.
    const product = (a: Float64Array, b: Float64Array) =>
      a.reduce(
        (sum, one, j) =>
          sum + b.reduce((inner, other, k) => inner + one * other * moments.within[4 * j + k], 0),
        0,
      );
    const [first, second] = directions.map(({ weights }) => weights);
    expect(product(first, first)).toBeCloseTo(1, 9);
    expect(product(second, second)).toBeCloseTo(1, 9);
    expect(product(first, second)).toBeCloseTo(0, 9);
  });

  it('discriminant_regularised_iris: drawn towards the common shape and a round one (Friedman 1989)', () => {
    const { results } = loadValues<{
      results: {
        kind: string;
        lam: number;
        gam: number;
        rows: number[];
        discriminants: number[][];
        probabilities: number[][];
      }[];
    }>('discriminant_regularised_iris');
    const those = results.filter(({ kind }) => kind === 'Friedman 1989');
    expect(those.length).toBeGreaterThan(0);
    for (const { lam, gam, rows, discriminants, probabilities } of those) {
      const clouds = cloudsOf(moments, levels, { ownShapes: true, pooled: lam, round: gam });
      const shares = sharesOf({ shape: 'quadratic', pooled: lam, round: gam });
      rows.forEach((row, i) =>
        clouds.forEach(({ mean, whitening, logDeterminant }, level) => {
          let distance = 0;
          for (let a = 0; a < 4; a++) {
            let sum = 0;
            for (let b = 0; b <= a; b++)
              sum += whitening[4 * a + b] * (inputs.columns[b][row - 1] - mean[b]);
            distance += sum * sum;
          }
          const found = -(distance + logDeterminant) / 2 + Math.log(1 / 3);
          expect(found).toBeCloseTo(discriminants[i][level], 7);
          expect(shares[3 * (row - 1) + level]).toBeCloseTo(probabilities[i][level], 8);
        }),
      );
    }
  });
});

describe('the map of discriminants', () => {
  const { inputs, outcome, levels, codes } = iris();
  const shownBy = (on: Inputs, of: Outcome, said: Settings = {}) =>
    facetOf(fit(on, of, said).describe().facets, 'discriminants')!;

  it('of clouds of one shape has its borders where two levels are as near, given how frequent they are', () => {
    const { map, directions, priors } = shownBy(inputs, outcome);
    // Along both directions a cloud is round and of unit size, so that this is the whole of it.
    const logsAt = (x: number, y: number) =>
      levels.map(
        (_, k) =>
          Math.log(priors[k]) -
          ((x - directions[0].means[k]) ** 2 + (y - directions[1].means[k]) ** 2) / 2,
      );
    expect(map!.borders.length).toBeGreaterThan(30);
    for (const [a, b, c, d] of map!.borders)
      for (const [x, y] of [
        [a, b],
        [c, d],
      ]) {
        const [first, second] = logsAt(x, y).toSorted((one, other) => other - one);
        expect(first - second).toBeLessThan(5e-3);
      }
  });

  it('has the patients where their own values put them', () => {
    const { map, directions } = shownBy(inputs, outcome);
    expect(map!.patients.length).toBe(150);
    const moments = momentsOf(inputs.columns, { codes, levels: 3 });
    const sorted = (places: number[][]) =>
      places.toSorted((a, b) => a[0] - b[0] || a[1] - b[1] || a[2] - b[2]);
    const own = Array.from(codes, (level, row) => [
      level,
      ...[0, 1].map((k) =>
        directions[k].weights.reduce(
          (sum, weight, j) =>
            sum + (weight / Math.sqrt(moments.within[5 * j])) * inputs.columns[j][row],
          0,
        ),
      ),
    ]);
    const drawn = sorted(map!.patients.map(({ level, at }) => [level, ...at]));
    sorted(own).forEach((place, i) =>
      place.forEach((value, k) => expect(drawn[i][k]).toBeCloseTo(value, 3)),
    );
  });

  it('draws the same of many patients whatever the order of the table, and none for two levels', () => {
    const rows = Int32Array.from({ length: 900 }, (_, i) => i);
    const draw = randomStream(3, 'many');
    const many: Inputs = {
      rowCount: 900,
      names: ['a', 'b', 'c'],
      columns: [0, 1, 2].map(() => Float64Array.from(rows, () => draw.normal())),
    };
    const values = Int32Array.from(rows, (row) =>
      Math.min(2, Math.floor(Math.abs(many.columns[0][row] + many.columns[1][row]))),
    );
    const of = (order: Int32Array): [Inputs, Outcome] => [
      {
        ...many,
        columns: many.columns.map((column) => column.slice().map((_, i) => column[order[i]])),
      },
      {
        kind: 'levels',
        levels: ['none', 'mild', 'severe'],
        ordered: true,
        values: values.map((_, i) => values[order[i]]),
      },
    ];
    const map = shownBy(...of(rows)).map!;
    const turned = shownBy(...of(rows.toReversed())).map!;
    expect(map.patients.length).toBe(400);
    expect(turned.patients).toEqual(map.patients);
    const event: Outcome = {
      kind: 'event',
      values: Int8Array.from(values, (one) => Number(one > 0)),
    };
    expect(shownBy(many, event).map).toBeUndefined();
  });

  it('bends its borders where they are bent: a circle', () => {
    const grid: Grid = { across: [-2, 2], up: [-2, 2], side: 61 };
    const { x, y } = placesOf(grid);
    const logs = Float64Array.from({ length: 2 * x.length }, (_, i) =>
      i % 2 === 0 ? 0 : x[i >> 1] ** 2 + y[i >> 1] ** 2 - 1,
    );
    const pieces = bordersOf(grid, logs, 2);
    const length = pieces.reduce((sum, [a, b, c, d]) => sum + Math.hypot(c - a, d - b), 0);
    expect(length).toBeCloseTo(2 * Math.PI, 2);
    for (const [a, b] of pieces) expect(Math.hypot(a, b)).toBeCloseTo(1, 2);
  });
});

describe('the family of discriminants', () => {
  const draw = randomStream(7, 'clouds');
  const event = Int8Array.from({ length: 500 }, () => Number(draw.uniform() < 0.3));
  const a = Float64Array.from(event, (one) => 1.5 * one + draw.normal());
  const b = Float64Array.from(a, (value) => 0.6 * value + draw.normal());
  const outcome: Outcome = { kind: 'event', values: event };
  const inputs: Inputs = { rowCount: 500, names: ['a', 'b'], columns: [a, b] };
  const risksOf = (fitted: ReturnType<typeof fit>, on: Inputs) =>
    predictionsOf(fitted.fitted.predict(on), 'event').risks;

  it('is linear in the log-odds with one shape, and is not with one each', () => {
    const line = {
      rowCount: 3,
      names: ['a', 'b'],
      columns: [Float64Array.of(-1, 1, 3), Float64Array.of(0, 1, 2)],
    };
    const bend = (said: Settings) => {
      const [low, middle, high] = [...risksOf(fit(inputs, outcome, said), line)].map((risk) =>
        Math.log(risk / (1 - risk)),
      );
      return low + high - 2 * middle;
    };
    expect(bend({})).toBeCloseTo(0, 9);
    expect(bend({ shape: 'quadratic', pooled: 1 })).toBeCloseTo(0, 9);
    expect(Math.abs(bend({ shape: 'quadratic', pooled: 0 }))).toBeGreaterThan(1e-3);
  });

  it('leaves out what repeats others, and says where a level is too small for a shape of its own', () => {
    const twice = {
      ...inputs,
      names: ['a', 'b', 'c'],
      columns: [a, b, a.map((value, i) => value - b[i])],
    };
    const fitted = fit(twice, outcome);
    expect(fitted.warnings.map(({ sentence }) => sentence)).toEqual([
      'Left out because it repeats other inputs: c.',
    ]);
    expect([...risksOf(fitted, twice)]).toEqual([...risksOf(fit(inputs, outcome), inputs)]);
    const few: Outcome = { kind: 'event', values: event.map((_, i) => Number(i < 2)) };
    const quadratic = { shape: 'quadratic', pooled: 0 };
    expect(() => fit(inputs, few, quadratic)).toThrow(FitObstacle);
    expect(() => fit(inputs, few, quadratic)).toThrow(
      /The 2 patients with yes are too few, or too alike, for a shape of their own in 2 inputs/,
    );
    for (const said of [
      { shape: 'quadratic', pooled: 0.3 },
      { ...quadratic, round: 0.2 },
    ] as Settings[])
      expect(risksOf(fit(inputs, few, said), inputs).every((risk) => risk >= 0 && risk <= 1)).toBe(
        true,
      );
  });

  it('gives a level that nobody has no share, and tells the others apart as without it', () => {
    const three: Outcome = {
      kind: 'levels',
      levels: ['no', 'nobody', 'yes'],
      ordered: false,
      values: Int32Array.from(event, (one) => 2 * one),
    };
    const { shares } = predictionsOf(fit(inputs, three).fitted.predict(inputs), 'levels');
    const risks = risksOf(fit(inputs, outcome), inputs);
    for (let row = 0; row < 500; row++) {
      expect(shares[3 * row + 1]).toBe(0);
      expect(shares[3 * row + 2]).toBeCloseTo(risks[row], 9);
    }
  });

  it('shows the direction that parts both levels, with cases above, and what each input has in it', () => {
    const shown = facetOf(fit(inputs, outcome).describe().facets, 'discriminants')!;
    const [{ share, means, weights, at, densities }] = shown.directions;
    expect(shown.directions.length).toBe(1);
    expect(share).toBeCloseTo(1, 12);
    expect(means[1]).toBeGreaterThan(means[0]);
    // What parts them is the first input; the second only goes with it.
    expect(weights[0]).toBeGreaterThan(5 * Math.abs(weights[1]));
    const step = (at![1] - at![0]) / (densities![0].length - 1);
    for (const own of densities!)
      expect(own.reduce((sum, one) => sum + one * step, 0)).toBeCloseTo(1, 1);
  });
});
