import { describe, expect, it } from 'vitest';
import { facetOf, familyOf, settingsSchema, type Settings } from '../../src/families/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { predictionsOf, type Outcome } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import {
  binCodes,
  compiledGrower,
  EnsembleBuilder,
  numberTarget,
  PlainGrower,
  samplesOf,
  type ForestRules,
  type Sampling,
} from '../../src/trees/index.ts';
import { loadTable, numbers } from '../reference/load.ts';
import { madePatients, takenEvents, takenInputs } from './made-patients.ts';

const family = familyOf('random-forest');
const settingsOf = (settings: Settings) =>
  settingsSchema(family.description.settings).parse(settings);
const fit = (
  inputs: Inputs,
  outcome: Outcome,
  settings: Settings = {},
  context: { weights?: Float64Array; costs?: number[][]; seed?: number } = {},
) => family.fit(inputs, outcome, settingsOf(settings), { seed: 1, ...context });
const risksOf = (fitted: ReturnType<typeof fit>, inputs: Inputs, along?: number) =>
  predictionsOf(fitted.fitted.predict(inputs, along), 'event').risks;
const mean = (values: ArrayLike<number>) =>
  Array.from(values).reduce((sum, one) => sum + one, 0) / values.length;
const brier = (risks: ArrayLike<number>, values: ArrayLike<number>) =>
  mean(Array.from(risks, (risk, i) => (risk - values[i]) ** 2));

describe('growing compiled and plain', () => {
  const words: [number, number, number, number] = [11, -22, 33, 45];
  const leaf = {
    width: 1,
    valuesOf: (sums: Float64Array, to: Float64Array) => {
      to[0] = sums[1] / sums[0];
    },
  };
  const rules: ForestRules = {
    depth: 30,
    leastLeaf: 1,
    tries: 2,
    isShare: true,
    randomThresholds: false,
  };
  it.each([
    ['of yes and no, with gaps and levels', 700, true, 1],
    ['of yes and no, in more patients than every value has a bin', 5000, true, 3],
    ['of a number', 700, false, 1],
    ['of a number, in large leaves', 3000, false, 40],
    ['of three patients', 3, true, 1],
  ])('gives the same tree: %s', (_, count, isShare, leastLeaf) => {
    const { inputs, outcome, risks } = madePatients(count);
    const draw = randomStream(4, 'weights');
    const values = Float64Array.from(isShare ? outcome.values : risks.map((one) => 10 * one - 4));
    // Whole numbers, as patients that are drawn several times.
    const weights = Float64Array.from(values, () => Math.floor(3 * draw.uniform()));
    const target = { ...numberTarget(values, weights), weights };
    const binned = binCodes(inputs);
    const order = Int32Array.of(2, 0, 3, 1);
    const own = { ...rules, isShare, leastLeaf };
    const grown = [
      compiledGrower(binned, target, own, order, leaf)!,
      new PlainGrower(binned, target, own, order, leaf),
    ].map((grower) => {
      const builder = new EnsembleBuilder();
      for (let tree = 0; tree < 5; tree++) grower.grow(builder, [tree, ...words.slice(1)] as never);
      return { ...builder.made(), gains: grower.gains };
    });
    const said = ({
      child,
      input,
      threshold,
      flags,
      values: all,
      goesLeft,
      starts,
    }: (typeof grown)[0]) => {
      const lines: string[] = [];
      const walk = (node: number, depth: number) => {
        if (input[node] < 0) {
          lines.push(`${depth} ${all[child[node]].toFixed(9)}`);
          return;
        }
        const levels = [...goesLeft.slice(threshold[node], threshold[node] + 5)].join('');
        const at = flags[node] > 1 ? levels : threshold[node];
        lines.push(`${depth} ${input[node]} ${at} ${flags[node]}`);
        walk(child[node], depth + 1);
        walk(child[node] + 1, depth + 1);
      };
      for (const root of starts.slice(0, -1)) walk(root, 0);
      return lines;
    };
    const [compiled, plain] = grown.map(said);
    expect(compiled).toEqual(plain);
    if (count > 3) expect(compiled.length).toBeGreaterThan(30);
    grown[0].gains.forEach((gain, j) => {
      expect(gain).toBeCloseTo(grown[1].gains[j], 6);
    });
  });
});

describe('a forest’s samples', () => {
  const order = Int32Array.from({ length: 1000 }, (_, row) => row);
  const drawn = (sampling: Sampling, tree = 0) => {
    const times = new Float64Array(1000);
    samplesOf({ sampling, order, seed: 3 })(tree, times);
    return times;
  };
  it('are as many as there are patients, put back: about 63% of them are in one', () => {
    const times = drawn({ way: 'bootstrap' });
    expect(times.reduce((sum, one) => sum + one, 0)).toBe(1000);
    // 1 - 1/e of all, within four standard errors.
    const inside = times.filter((one) => one > 0).length;
    expect(Math.abs(inside - 632)).toBeLessThan(40);
    expect(drawn({ way: 'bootstrap' })).toEqual(times);
    expect(drawn({ way: 'bootstrap' }, 1)).not.toEqual(times);
  });
  it('are an exact share without putting back, every patient equally often', () => {
    const often = new Float64Array(1000);
    for (let tree = 0; tree < 400; tree++) {
      const times = drawn({ way: 'share', share: 0.3 }, tree);
      expect(times.reduce((sum, one) => sum + one, 0)).toBe(300);
      expect(Math.max(...times)).toBe(1);
      times.forEach((one, row) => {
        often[row] += one;
      });
    }
    expect(Math.min(...often)).toBeGreaterThan(120 - 5 * Math.sqrt(400 * 0.3 * 0.7));
    expect(Math.max(...often)).toBeLessThan(120 + 5 * Math.sqrt(400 * 0.3 * 0.7));
  });
  it('hold as many of each level as the rarest has where they are balanced', () => {
    const levels = order.map((row) => (row < 50 ? 2 : row < 300 ? 1 : 0));
    const times = drawn({ way: 'balanced', levels, count: 3 });
    const of = (level: number) =>
      times.reduce((sum, one, row) => sum + (levels[row] === level ? one : 0), 0);
    expect([of(0), of(1), of(2)]).toEqual([50, 50, 50]);
  });
});

describe('a random forest', () => {
  it('says the same whatever the order of patients and of columns', () => {
    const { inputs, outcome } = madePatients(400);
    const once = risksOf(fit(inputs, outcome, { trees: 30 }), inputs);
    const turned = Array.from({ length: 400 }, (_, row) => (row * 7) % 400);
    const other = fit(takenInputs(inputs, turned), takenEvents(outcome, turned), { trees: 30 });
    expect([...risksOf(other, inputs)]).toEqual([...once]);
    const places = [3, 1, 0, 2];
    const moved: Inputs = {
      ...inputs,
      names: places.map((j) => inputs.names[j]),
      columns: places.map((j) => inputs.columns[j]),
      levels: places.map((j) => inputs.levels![j]),
    };
    expect([...risksOf(fit(moved, outcome, { trees: 30 }), moved)]).toEqual([...once]);
    const else2 = fit(inputs, outcome, { trees: 30 }, { seed: 2 });
    expect([...risksOf(else2, inputs)]).not.toEqual([...once]);
  });

  it('judges itself out of bag as patients it has not seen judge it', () => {
    const { inputs, outcome } = madePatients(6000);
    const later = madePatients(20_000, 7);
    const fitted = fit(inputs, outcome, { trees: 150 });
    const curve = facetOf(fitted.describe().facets, 'curve')!;
    const said = curve.lines[0].values.at(-1)!;
    const truly = brier(risksOf(fitted, later.inputs), later.outcome.values);
    expect(Math.abs(said - truly)).toBeLessThan(0.006);
    expect(curve.lines[0].values[0]).toBeGreaterThan(said + 0.02);
    expect(curve.plain).toBeCloseTo(
      brier(
        outcome.values.map(() => 0),
        outcome.values,
      ) *
        (1 - mean(outcome.values)),
      6,
    );
    // Not worse than knowing the true risks by more than this.
    expect(truly).toBeLessThan(brier(later.risks, later.outcome.values) + 0.02);
  });

  it('of fewer trees is the same forest cut short', () => {
    const { inputs, outcome } = madePatients(300);
    const long = fit(inputs, outcome, { trees: 60 });
    const short = fit(inputs, outcome, { trees: 20 });
    expect([...risksOf(long, inputs, 20)]).toEqual([...risksOf(short, inputs)]);
  });

  it('finds which of two predictors act together, where neither does alone', () => {
    const draw = randomStream(5, 'interaction');
    const columns = Array.from({ length: 6 }, () =>
      Float64Array.from({ length: 1500 }, () => draw.normal()),
    );
    const values = Int8Array.from({ length: 1500 }, (_, row) =>
      Number(draw.uniform() < (columns[0][row] * columns[1][row] > 0 ? 0.9 : 0.1)),
    );
    const inputs = { rowCount: 1500, names: ['a', 'b', 'c', 'd', 'e', 'f'], columns };
    const fitted = fit(inputs, { kind: 'event', values }, { trees: 150 });
    const { inputs: important } = facetOf(fitted.describe().facets, 'importance')!;
    expect(
      important
        .slice(0, 2)
        .map(({ input }) => input)
        .toSorted(),
    ).toEqual(['a', 'b']);
    for (const { interval } of important.slice(0, 2)) expect(interval[0]).toBeGreaterThan(0.03);
    for (const { rise } of important.slice(2)) expect(Math.abs(rise)).toBeLessThan(0.01);
  });

  it('counts costs in its splits and keeps the risks those of the patients', () => {
    const { inputs, outcome } = madePatients(3000);
    const costs = [
      [0, 1],
      [10, 0],
    ];
    const plain = fit(inputs, outcome, { trees: 80 }, { costs });
    const costly = fit(inputs, outcome, { trees: 80, costsInSplits: true }, { costs });
    expect(risksOf(costly, inputs)).not.toEqual(risksOf(plain, inputs));
    const share = mean(outcome.values);
    expect(Math.abs(mean(risksOf(plain, inputs)) - share)).toBeLessThan(0.02);
    expect(Math.abs(mean(risksOf(costly, inputs)) - share)).toBeLessThan(0.02);
  });

  it('learns from balanced samples and brings the shares back', () => {
    const { inputs, outcome, risks } = madePatients(6000);
    // One in eight of the cases stays: a rare event.
    const rows = [...outcome.values.keys()].filter(
      (row) => outcome.values[row] === 0 || row % 8 === 0,
    );
    const rare = takenEvents(outcome, rows);
    const some = takenInputs(inputs, rows);
    const fitted = fit(some, rare, { trees: 100, drawnBy: 'balanced', leastLeaf: 10 });
    const later = madePatients(8000, 5);
    const laterRows = [...later.outcome.values.keys()].filter(
      (row) => later.outcome.values[row] === 0 || row % 8 === 0,
    );
    const seen = risksOf(fitted, takenInputs(later.inputs, laterRows));
    expect(mean(seen)).toBeGreaterThan(0.8 * mean(takenEvents(later.outcome, laterRows).values));
    expect(mean(seen)).toBeLessThan(1.2 * mean(takenEvents(later.outcome, laterRows).values));
    const said = risksOf(fitted, some);
    // Who is truly at higher risk is said to be.
    const high = rows.map((row, i) => [risks[row], said[i]]).filter(([one]) => one > 0.7);
    const low = rows.map((row, i) => [risks[row], said[i]]).filter(([one]) => one < 0.2);
    expect(mean(high.map(([, one]) => one))).toBeGreaterThan(5 * mean(low.map(([, one]) => one)));
  });

  it('parts at random where that is wanted, nearly as well', () => {
    const { inputs, outcome } = madePatients(2000);
    const later = madePatients(5000, 3);
    const best = fit(inputs, outcome, { trees: 100 });
    const random = fit(inputs, outcome, { trees: 100, thresholds: 'random' });
    const of = (fitted: typeof best) => brier(risksOf(fitted, later.inputs), later.outcome.values);
    expect(of(random)).not.toBe(of(best));
    expect(of(random)).toBeLessThan(of(best) + 0.01);
  });

  it('tells the species of flowers apart out of bag, nearly all of them', () => {
    // Fisher's iris data; fewer than one in ten wrong is what any good method reaches (common practice).
    const names = ['Sepal.Length', 'Sepal.Width', 'Petal.Length', 'Petal.Width'];
    const iris = loadTable('iris');
    const inputs = { rowCount: 150, names, columns: names.map((name) => numbers(iris, name)) };
    const species = Int32Array.from({ length: 150 }, (_, row) => Math.floor(row / 50));
    const levels = ['setosa', 'versicolor', 'virginica'];
    const rows = [...species.keys()];
    let wrong = 0;
    for (let fold = 0; fold < 5; fold++) {
      const learn = rows.filter((row) => row % 5 !== fold);
      const left = rows.filter((row) => row % 5 === fold);
      const fitted = fit(
        takenInputs(inputs, learn),
        {
          kind: 'levels',
          values: Int32Array.from(learn, (row) => species[row]),
          levels,
          ordered: false,
        },
        { trees: 100, leastLeaf: 1 },
      );
      const { shares } = predictionsOf(fitted.fitted.predict(takenInputs(inputs, left)), 'levels');
      left.forEach((row, i) => {
        const own = [...shares.slice(3 * i, 3 * i + 3)];
        if (own.indexOf(Math.max(...own)) !== species[row]) wrong++;
      });
    }
    expect(wrong).toBeLessThan(15);
  });

  it.each([
    ['one patient', 1],
    ['three patients', 3],
  ])('of %s says what there is to say', (_, count) => {
    const { inputs } = madePatients(count);
    const fitted = fit(inputs, { kind: 'event', values: new Int8Array(count) });
    expect([...risksOf(fitted, inputs)]).toEqual(Array<number>(count).fill(0));
    expect(fitted.warnings.map(({ code }) => code)).toEqual(['no split']);
    expect(() => fitted.describe()).not.toThrow();
  });

  it('of columns that are empty or constant says what all have, and says so', () => {
    const columns = [new Float64Array(40).fill(NaN), new Float64Array(40).fill(3)];
    const inputs = { rowCount: 40, names: ['empty', 'constant'], columns };
    const values = Int8Array.from({ length: 40 }, (_, row) => Number(row % 4 === 0));
    const fitted = fit(inputs, { kind: 'event', values });
    expect(mean(risksOf(fitted, inputs))).toBeCloseTo(0.25, 1);
    expect(fitted.warnings).toEqual([
      {
        code: 'no split',
        sentence: 'No tree finds a question to ask: everybody gets what all have.',
      },
    ]);
  });

  it('parts more levels than a byte has values, and gaps that alone tell', () => {
    const draw = randomStream(6, 'many');
    const names = Array.from({ length: 400 }, (_, k) => `level ${k}`);
    const level = Float64Array.from({ length: 3000 }, () => Math.floor(400 * draw.uniform()));
    const gap = Float64Array.from({ length: 3000 }, () => (draw.uniform() < 0.5 ? NaN : 1));
    const values = Int8Array.from(level, (code, row) =>
      Number((code % 2 === 0) !== Number.isNaN(gap[row])),
    );
    const inputs: Inputs = {
      rowCount: 3000,
      names: ['level', 'gap'],
      columns: [level, gap],
      levels: [names, undefined],
    };
    const fitted = fit(
      inputs,
      { kind: 'event', values },
      { trees: 40, leastLeaf: 1, triesBy: 'given', tries: 2 },
    );
    expect(brier(risksOf(fitted, inputs), values)).toBeLessThan(0.1);
    const saved = fitted.fitted.save();
    expect(family.revive(saved).predict(inputs)).toEqual(fitted.fitted.predict(inputs));
  });
});
