import { describe, expect, it } from 'vitest';
import { facetOf, familyOf, settingsSchema, type Settings } from '../../src/families/index.ts';
import { outcomeUnit } from '../../src/families/penalised/outcome-unit.ts';
import { followPath, type PathTask } from '../../src/families/penalised/path.ts';
import { strengthRange } from '../../src/families/penalised/strengths.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { predictionsOf, type Outcome } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';
import { iris } from '../reference/sets.ts';

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
const strongest = (task: PathTask): number => strengthRange(task)!.strongest;
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
      const { sd } = outcomeUnit(outcome);
      for (const { alpha, lam, intercept, coefficients } of values.results) {
        // The published objective is in the outcome's own unit, the setting in its SDs: for a mixture they differ.
        const ofSetting = outcome.kind === 'event' ? lam : alpha === 1 ? lam / sd : lam;
        const said = { mix: alpha, strengthBy: 'given', strength: ofSetting };
        const [[constant, ...slopes]] =
          outcome.kind === 'event' || alpha === 0 || alpha === 1
            ? coefficientsOf(fit(inputs, outcome, said))
            : followPath({ inputs, outcome, mix: alpha }, [lam], false)[0];
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
    const { inputs, outcome, names, levels } = iris();
    const flowers = inputsOf(Object.fromEntries(names.map((name, j) => [name, inputs.columns[j]])));
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
    const task = { inputs: flowers, outcome, mix: 1 };
    expect(strongest(task) / lambda_max_lasso).toBeCloseTo(1, 10);
    for (const { alpha, lam, coefficients, rows, probabilities } of results) {
      const fitted = fit(flowers, outcome, { mix: alpha, strengthBy: 'given', strength: lam });
      coefficientsOf(fitted).forEach(([, ...slopes], level) =>
        names.forEach((name, j) =>
          expect(Math.abs(slopes[j] - coefficients[levels[level]][name])).toBeLessThan(2e-6),
        ),
      );
      const { shares } = predictionsOf(fitted.fitted.predict(flowers), 'levels');
      rows.forEach((row, i) =>
        probabilities[i].forEach((share, level) =>
          expect(shares[3 * (row - 1) + level]).toBeCloseTo(share, 6),
        ),
      );
    }
  });
});

/** Made-up patients: some inputs tell, the last is nearly the first, one comes in three indicators. */
function made(patients: number, seed: number) {
  const draw = randomStream(seed, 'penalised');
  const number = () => Float64Array.from({ length: patients }, () => draw.normal());
  const [a, b, useless] = [number(), number(), number()];
  const level = a.map(() => Math.floor(4 * draw.uniform()));
  const near = a.map((value) => value + 0.05 * draw.normal());
  const inputs: Inputs = {
    ...inputsOf({
      a,
      b,
      useless,
      l1: level.map((one) => Number(one === 1)),
      l2: level.map((one) => Number(one === 2)),
      l3: level.map((one) => Number(one === 3)),
      near,
    }),
    sources: ['a', 'b', 'useless', 'l', 'l', 'l', 'near'],
  };
  const linear = a.map((value, i) => 1.2 * value - 0.8 * b[i] + (level[i] === 2 ? 1 : 0) - 0.7);
  const event: Outcome = {
    kind: 'event',
    values: Int8Array.from(linear, (one) => Number(draw.uniform() < 1 / (1 + Math.exp(-one)))),
  };
  const number_: Outcome = {
    kind: 'number',
    values: linear.map((one) => 50 + 8 * (one + draw.normal())),
  };
  const levels: Outcome = {
    kind: 'levels',
    levels: ['low', 'middle', 'high'],
    ordered: true,
    values: Int32Array.from(linear, (one) => (one > 0.5 ? 2 : one > -0.8 ? 1 : 0)),
  };
  return { inputs, outcomes: { event, number: number_, levels } };
}

describe('the path', () => {
  const { inputs, outcomes } = made(400, 1);
  const kinds = Object.entries(outcomes) as ['event' | 'number' | 'levels', Outcome][];
  const weights = Float64Array.from({ length: 400 }, (_, i) => 0.5 + (i % 3));

  /** Minus the derivative of the mean loss in each coefficient per SD, worked out by definition. */
  function pullsAt(outcome: Outcome, point: ArrayLike<number>[], by: Float64Array): number[][] {
    const total = by.reduce((sum, one) => sum + one, 0);
    const standard = inputs.columns.map((column) => {
      const mean = column.reduce((sum, value, i) => sum + by[i] * value, 0) / total;
      const variance =
        column.reduce((sum, value, i) => sum + by[i] * (value - mean) ** 2, 0) / total;
      return column.map((value) => (value - mean) / Math.sqrt(variance));
    });
    const linear = point.map((own) =>
      Float64Array.from({ length: 400 }, (_, i) =>
        inputs.columns.reduce((sum, column, j) => sum + own[j + 1] * column[i], own[0]),
      ),
    );
    const residual = linear.map((own, level) =>
      own.map((x, i) => {
        if (outcome.kind === 'number') return outcome.values[i] - x;
        if (outcome.kind === 'event') return outcome.values[i] - 1 / (1 + Math.exp(-x));
        const all = linear.reduce((sum, other) => sum + Math.exp(other[i]), 0);
        return Number(outcome.values[i] === level) - Math.exp(x) / all;
      }),
    );
    return residual.map((own) => [
      own.reduce((sum, value, i) => sum + (by[i] * value) / total, 0),
      ...standard.map((column) =>
        column.reduce((sum, value, i) => sum + (by[i] * own[i] * value) / total, 0),
      ),
    ]);
  }

  const deviations = (by: Float64Array) => {
    const total = by.reduce((sum, one) => sum + one, 0);
    return inputs.columns.map((column) => {
      const mean = column.reduce((sum, value, i) => sum + by[i] * value, 0) / total;
      return Math.sqrt(
        column.reduce((sum, value, i) => sum + by[i] * (value - mean) ** 2, 0) / total,
      );
    });
  };

  it.each(
    kinds.flatMap(([kind, outcome]) => [0, 0.4, 1].map((mix) => [kind, mix, outcome] as const)),
  )(
    'of %s with mix %f meets the conditions of a minimum (Karush, Kuhn & Tucker)',
    (kind, mix, outcome) => {
      const task: PathTask = { inputs, outcome, weights, mix };
      const unit = kind === 'number' ? 10 : 1;
      const strength = strongest(task) * (mix === 0 ? 1e-3 : 0.05);
      const points = followPath(task, [20 * strength, 5 * strength, strength], false);
      const point = points[2];
      const sds = deviations(weights);
      pullsAt(outcome, point, weights).forEach(([constant, ...pulls], level) => {
        expect(Math.abs(constant)).toBeLessThan(1e-6 * unit);
        pulls.forEach((pull, j) => {
          const b = point[level][j + 1] * sds[j];
          const wanted = strength * (mix * Math.sign(b) + (1 - mix) * b);
          if (b === 0) expect(Math.abs(pull)).toBeLessThanOrEqual(strength * mix + 1e-6 * unit);
          else expect(Math.abs(pull - wanted)).toBeLessThan(1e-6 * unit);
        });
      });
    },
  );

  it.each(kinds)(
    'of %s takes indicators of a predictor in together, and only then',
    (_kind, outcome) => {
      const groups = Int32Array.of(0, 1, 2, 3, 3, 3, 4);
      const task: PathTask = { inputs, outcome, mix: 1, groups };
      const alike = new Float64Array(400).fill(1);
      const sds = deviations(alike);
      const most = strongest(task);
      let halves = 0;
      for (const strength of [0.5 * most, 0.2 * most, 0.05 * most]) {
        const [point] = followPath(task, [strength], false);
        const pulls = pullsAt(outcome, point, alike);
        point.forEach((own, level) => {
          const inGroup = [4, 5, 6].map((j) => own[j] * sds[j - 1]);
          const pulled = [4, 5, 6].map((j) => pulls[level][j]);
          const length = Math.hypot(...inGroup);
          if (length === 0) {
            expect(Math.hypot(...pulled)).toBeLessThanOrEqual(strength * Math.sqrt(3) * (1 + 1e-6));
            return;
          }
          halves++;
          inGroup.forEach((b, k) => {
            expect(b).not.toBe(0);
            const unit = outcome.kind === 'number' ? 10 : 1;
            expect(Math.abs(pulled[k] - (strength * Math.sqrt(3) * b) / length)).toBeLessThan(
              2e-6 * unit,
            );
          });
        });
      }
      expect(halves).toBeGreaterThan(0);
      // Without, they come in one by one.
      const alone = followPath(
        { ...task, groups: undefined },
        [0.7, 0.5, 0.3, 0.2, 0.1, 0.05].map((share) => share * most),
        false,
      );
      const isParted = (own: Float64Array) =>
        new Set([4, 5, 6].map((j) => own[j] === 0)).size === 2;
      expect(alone.some((point) => point.some(isParted))).toBe(true);
    },
  );

  it('is the same followed or begun at a strength, and nothing at the strongest', () => {
    for (const [, outcome] of kinds) {
      const task: PathTask = { inputs, outcome, mix: 1 };
      const most = strongest(task);
      const strengths = [most, most / 2, most / 10, most / 100];
      const followed = followPath(task, strengths, false);
      expect(followed[0].every((own) => own.slice(1).every((one) => one === 0))).toBe(true);
      const [begun] = followPath(task, [most / 100], false);
      begun.forEach((own, level) =>
        own.forEach((value, j) => expect(followed[3][level][j]).toBeCloseTo(value, 6)),
      );
      const [just] = followPath(task, [most * 0.999], true);
      expect(just.some((own) => own.slice(1).some((one) => one !== 0))).toBe(true);
    }
  });
});

describe('the family of penalised regressions', () => {
  const { inputs, outcomes } = made(400, 1);

  it.each(Object.entries(outcomes))(
    'of kind %s chooses the least loss in inner folds, or the strongest within one standard error of it',
    (_kind, outcome) => {
      const best = fit(inputs, outcome);
      const { strengths, tried, counts, chosen, lines, constants, plain } = facetOf(
        best.describe().facets,
        'path',
      )!;
      expect(chosen).toBe(tried.best);
      expect(tried.mean[tried.best]).toBe(Math.min(...tried.mean));
      const bound = tried.mean[tried.best] + tried.error[tried.best];
      expect(tried.mean.findIndex((mean) => mean <= bound)).toBe(tried.simplest);
      expect(tried.simplest).toBeLessThanOrEqual(tried.best);
      expect(counts[0]).toBe(0);
      expect(plain).toBeGreaterThan(tried.mean[tried.best]);
      // What is shown at the chosen place is what the model says, and of a given strength likewise.
      coefficientsOf(best).forEach(([constant, ...slopes], level) => {
        expect(constants[level][chosen]).toBeCloseTo(constant, 2);
        slopes.forEach((slope, j) => expect(lines[j].ways[level][chosen]).toBeCloseTo(slope, 3));
      });
      const simplest = fit(inputs, outcome, { strengthBy: 'simplest' });
      const given = fit(inputs, outcome, {
        strengthBy: 'given',
        strength: strengths[tried.simplest],
      });
      expect(coefficientsOf(given)).toEqual(coefficientsOf(simplest));
      expect(facetOf(given.describe().facets, 'path')!.chosen).toBe(tried.simplest);
    },
  );

  it.each([0, 0.01, 0.05])(
    'with a mixing share of %f predicts a number as well as the best closed-form ridge, in any unit',
    (mix) => {
      const draw = randomStream(442, 'ridge');
      const shared = Float64Array.from({ length: 442 }, () => draw.normal());
      const columns = Array.from({ length: 10 }, () => shared.map((one) => one + draw.normal()));
      const values = shared.map((one, i) => 150 + 60 * (one + 0.5 * columns[3][i] + draw.normal()));
      const on = (rows: number[], unit: number): [Inputs, Outcome] => [
        inputsOf(Object.fromEntries(columns.map((own, j) => [`c${j}`, rows.map((i) => own[i])]))),
        { kind: 'number', values: Float64Array.from(rows, (i) => unit * values[i]) },
      ];
      const rows = [...values.keys()];
      const parts = [0, 1, 2, 3, 4].map((k) => [
        rows.filter((i) => i % 5 !== k),
        rows.filter((i) => i % 5 === k),
      ]);
      /** Out-of-fold sum of squared errors in the outcome's first unit. */
      const errorsOf = (unit: number, predict: (training: number[], held: number[]) => number[]) =>
        parts
          .flatMap(([training, held]) =>
            predict(training, held).map((value, i) => (value / unit - values[held[i]]) ** 2),
          )
          .reduce((sum, one) => sum + one, 0);
      const closedForm = [0.001, 0.01, 0.03, 0.1, 0.3, 1, 3, 10].map((strength) =>
        errorsOf(1, (training, held) => {
          const [inputs, outcome] = on(training, 1);
          const [point] = followPath({ inputs, outcome, mix: 0 }, [strength], false);
          return held.map((i) =>
            columns.reduce((sum, own, j) => sum + point[0][j + 1] * own[i], point[0][0]),
          );
        }),
      );
      for (const unit of [1, 75, 0.01]) {
        const errors = errorsOf(unit, (training, held) => {
          const { fitted } = fit(...on(training, unit), { mix });
          return [...predictionsOf(fitted.predict(on(held, unit)[0]), 'number').values];
        });
        expect(errors).toBeLessThan(1.02 * Math.min(...closedForm));
      }
    },
  );

  it('keeps directions, of whatever the patients look like', () => {
    for (const outcome of [outcomes.event, outcomes.number]) {
      const [[, a, b]] = coefficientsOf(fit(inputs, outcome));
      expect(a > 0 && b < 0).toBe(true);
      const turned = fit(inputs, outcome, { falling: ['a', 'near'], rising: ['b'] });
      const [[, ...slopes]] = coefficientsOf(turned);
      expect(slopes[0] <= 0 && slopes[6] <= 0 && slopes[1] >= 0).toBe(true);
      expect(turned.warnings).toEqual([]);
    }
    expect(
      fit(inputs, outcomes.levels, { rising: ['a'] }).warnings.map(({ code }) => code),
    ).toEqual(['direction not kept']);
  });

  it('says where nothing is left, and gives everybody what all have', () => {
    const strong = fit(inputs, outcomes.event, { strengthBy: 'given', strength: 10 });
    expect(strong.warnings.map(({ code }) => code)).toEqual(['no inputs']);
    const { risks } = predictionsOf(strong.fitted.predict(inputs), 'event');
    const { values } = outcomes.event;
    const share = values.reduce((sum, one) => sum + one, 0) / values.length;
    for (const risk of risks) expect(risk).toBeCloseTo(share, 9);
  });

  it('takes no predictor where patients are too few to try strengths in, unless one is given', () => {
    const some = {
      ...inputs,
      rowCount: 15,
      columns: inputs.columns.map((column) => column.slice(0, 15)),
    };
    const values = outcomes.event.values.slice(0, 15);
    const outcome: Outcome = { kind: 'event', values };
    const fitted = fit(some, outcome);
    expect(fitted.warnings.map(({ sentence }) => sentence)).toEqual([
      'Fewer than 20 patients cannot be dealt into inner folds to try strengths, so no predictor is used: everybody gets what all have. Give a strength of your own.',
    ]);
    const share = values.reduce((sum, one) => sum + one, 0) / 15;
    for (const risk of predictionsOf(fitted.fitted.predict(some), 'event').risks)
      expect(risk).toBeCloseTo(share, 9);
    expect(fitted.describe().facets).toEqual([]);
    expect(fit(some, outcome, { strengthBy: 'given', strength: 0.01 }).warnings).toEqual([]);
  });

  it('copes with more inputs than patients, separation, and inputs that say the same', () => {
    const draw = randomStream(4, 'wide');
    const columns = Object.fromEntries(
      Array.from({ length: 44 }, (_, j) => [
        `c${j}`,
        Float64Array.from({ length: 24 }, () => draw.normal()),
      ]),
    );
    const wide = inputsOf({ ...columns, same: columns.c0, still: new Float64Array(24).fill(3) });
    const parted: Outcome = {
      kind: 'event',
      values: Int8Array.from(columns.c0, (value) => Number(value > 0)),
    };
    const all: Settings[] = [{}, { mix: 0 }, { mix: 0.5, strengthBy: 'given', strength: 1e-5 }];
    for (const settings of all) {
      const fitted = fit(wide, parted, settings);
      const { risks } = predictionsOf(fitted.fitted.predict(wide), 'event');
      expect(risks.every((risk) => risk > 0 && risk < 1)).toBe(true);
      const [[, ...slopes]] = coefficientsOf(fitted);
      expect(slopes.every(Number.isFinite)).toBe(true);
      expect(slopes[45]).toBe(0);
      // With hardly any penalty both sides are parted as they can be.
      if (settings.strength) risks.forEach((risk, i) => expect(risk > 0.5).toBe(columns.c0[i] > 0));
    }
    // What is drawn in by squares is shared alike.
    const [[, ...shared]] = coefficientsOf(fit(wide, parted, { mix: 0 }));
    expect(shared[0]).toBeCloseTo(shared[44], 6);
  });
});
