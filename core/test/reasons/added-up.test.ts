import { describe, expect, it } from 'vitest';
import { familyOf, settingsSchema, type Settings } from '../../src/families/index.ts';
import { scoreRows, type Model } from '../../src/model/index.ts';
import { gaussLegendre } from '../../src/numeric/index.ts';
import { caseScores, type Outcome } from '../../src/outcome/index.ts';
import {
  addedUp,
  contributionsOf,
  takenRows,
  type Ask,
  askAlteredOf,
  askOf,
  effectOf,
} from '../../src/reasons/index.ts';
import { pathContributions, type Ensemble } from '../../src/trees/index.ts';
import type { FitRecipe } from '../../src/tuning/index.ts';
import {
  aside,
  fitAll,
  modelOf,
  outcomes,
  predictors,
  rows,
  wholeOf,
} from '../tuning/made-up-patients.ts';
import { threeTrees } from './golden.ts';

describe('Gauss-Legendre quadrature', () => {
  it('integrates polynomials up to twice its places less one', () => {
    for (const count of [1, 2, 3, 8, 20]) {
      const { at, weights } = gaussLegendre(count);
      for (let degree = 0; degree < 2 * count; degree++) {
        const sum = at.reduce((total, x, k) => total + weights[k] * x ** degree, 0);
        expect(sum).toBeCloseTo(1 / (degree + 1), 13);
      }
    }
  });
});

describe('contributions along the paths of trees', () => {
  it('are those of three trees for the weight of a child', () => {
    const { ensemble, columns, results, constant } = threeTrees();
    const inputsOf = (of: Float64Array[]) => ({
      ...{ rowCount: of[0].length, names: columns.map(({ name }) => name), columns: of },
    });
    const all = inputsOf(
      columns.map((column) => (column.type === 'number' ? column.values : new Float64Array(0))),
    );
    const known = results.shapley_tree_path_dependent!;
    for (const { x, base, values } of known) {
      const found = pathContributions(
        ensemble,
        inputsOf(x.map((one) => Float64Array.of(one))),
        all,
      );
      expect((constant + found.base) / base).toBeCloseTo(1, 10);
      columns.forEach(({ name }, j) =>
        expect(found.values[j][0] / base).toBeCloseTo(values[name] / base, 10),
      );
    }
  });
});

const fitted = (family: string, outcome: Outcome, some: Settings, more?: Partial<FitRecipe>) => {
  const settings = settingsSchema(familyOf(family).description.settings).parse(some);
  const {
    model: saved,
    preparation,
    correction,
  } = wholeOf(fitAll(outcome, { family, settings, seed: 5, ...more }));
  const model: Model = {
    ...modelOf,
    preparation,
    ...(correction && { correction }),
    family: { id: family, settings, saved },
  };
  return { model, saved };
};
const some = [241, 250, 255, 299];
const patients = predictors.map((column) => takenRows(column, some));
const development = predictors.map((column) => takenRows(column, rows));
const logOdds = (risk: number) => Math.log(risk / (1 - risk));
const trees = { trees: 20, depth: 4 };

describe.each<[string, 'event' | 'number' | 'levels', Settings]>([
  ['logistic', 'event', {}],
  ['linear', 'number', {}],
  ['penalised', 'event', {}],
  ['penalised', 'number', {}],
  ['additive', 'event', {}],
  ['additive', 'number', {}],
  ['decision-tree', 'event', { size: 'all', depth: 5 }],
  ['decision-tree', 'levels', { size: 'all', depth: 5 }],
  ['decision-tree', 'number', { size: 'all', depth: 5 }],
  ['random-forest', 'event', trees],
  ['random-forest', 'levels', trees],
  ['random-forest', 'number', trees],
  ['boosted-trees', 'event', { ...trees, until: 'all' }],
  ['boosted-trees', 'number', { ...trees, until: 'all' }],
])('what predictors add to a %s (%s)', (family, kind, settings) => {
  const { model } = fitted(family, outcomes[kind], settings);
  const counted = kind === 'levels' ? [1, 2] : undefined;
  const found = addedUp(model, patients, development, counted)!;
  const cases =
    kind === 'levels'
      ? { kind, levels: ['mild', 'severe'] }
      : kind === 'event'
        ? { kind }
        : { kind, side: 'from' as const, value: 0 };
  const scaled: Ask = (columns, rowCount) =>
    caseScores(scoreRows(model, columns, rowCount).predictions, cases).map((score) =>
      found.scale === 'log-odds' ? logOdds(score) : score,
    );

  it('comes with the base to what is said', () => {
    scaled(patients, some.length).forEach((score, i) => {
      const sum = found.values.reduce((total, own) => total + own[i], found.base);
      expect(sum).toBeCloseTo(score, 9);
    });
    expect(found.values.some((own) => own.some((value) => value !== 0))).toBe(true);
  });

  const isTrees = ['decision-tree', 'random-forest', 'boosted-trees'].includes(family);
  if (isTrees) return;
  it('is what all sets of predictors give, patients compared with all', () => {
    const one = patients.map((column) => takenRows(column, [2]));
    const { base, contributions } = contributionsOf(scaled, one, development);
    expect(found.base).toBeCloseTo(base, 9);
    contributions.forEach(({ value }, j) => expect(found.values[j][2]).toBeCloseTo(value, 9));
  });
});

describe('what predictors add to a forest', () => {
  it('is what all sets of predictors give, whoever is not asked going both ways', () => {
    const { model, saved } = fitted('random-forest', outcomes.event, { trees: 6, depth: 7 });
    const found = addedUp(model, patients, development)!;
    const ensemble = saved.arrays as unknown as Ensemble;
    const valuesOf = (columns: typeof predictors) =>
      columns.map((column) => (column.type === 'number' ? column.values : column.codes));
    const [own, others] = [valuesOf(patients), valuesOf(development)];
    const goesLeft = (node: number, value: number) => {
      const { flags, goesLeft: levels, threshold } = ensemble;
      if (Number.isNaN(value)) return (flags[node] & 1) === 1;
      return (flags[node] & 2) === 2
        ? levels[threshold[node] + value] === 1
        : value < threshold[node];
    };
    const said = (
      node: number,
      isAsked: (j: number) => boolean,
      i: number,
      here: number[],
    ): number => {
      const { input, child, values } = ensemble;
      const j = input[node];
      if (j < 0) return values[child[node]];
      const [left, right] = [true, false].map((side) =>
        here.filter((row) => goesLeft(node, others[j][row]) === side),
      );
      const below = (side: number, of: number[]) => said(side, isAsked, i, of);
      if (isAsked(j))
        return goesLeft(node, own[j][i]) ? below(child[node], left) : below(child[node] + 1, right);
      return (
        (left.length * below(child[node], left) + right.length * below(child[node] + 1, right)) /
        here.length
      );
    };
    const all = Array.from(rows, (_, i) => i);
    const meanOf = (set: number, i: number) =>
      Array.from({ length: 6 }, (_, tree) =>
        said(ensemble.starts[tree], (j) => ((set >> j) & 1) === 1, i, all),
      ).reduce((sum, one) => sum + one / 6, 0);
    // s! (3 - s)! / 4!
    const weights = [6, 2, 2, 6].map((one) => one / 24);
    const sizeOf = (set: number) => [0, 1, 2, 3].filter((j) => (set >> j) & 1).length;
    some.forEach((_, i) => {
      const means = Array.from({ length: 16 }, (_, set) => meanOf(set, i));
      expect(found.base).toBeCloseTo(means[0], 10);
      for (let j = 0; j < 4; j++) {
        let value = 0;
        for (let set = 0; set < 16; set++)
          if (((set >> j) & 1) === 0)
            value += weights[sizeOf(set)] * (means[set | (1 << j)] - means[set]);
        expect(found.values[j][i]).toBeCloseTo(value, 10);
      }
    });
  });
});

describe('many patients at once', () => {
  it.each(['random-forest', 'boosted-trees'])('are told what each is told alone: %s', (family) => {
    const { model } = fitted(family, outcomes.event, { trees: 30, depth: 8 });
    const all = predictors.map((column) => takenRows(column, aside));
    const together = addedUp(model, all, development)!;
    aside.forEach((_, i) => {
      const alone = addedUp(
        model,
        all.map((column) => takenRows(column, [i])),
        development,
      )!;
      expect(alone.base).toBe(together.base);
      alone.values.forEach((own, j) => expect(together.values[j][i]).toBeCloseTo(own[0], 12));
    });
  });
});

describe('an effect', () => {
  it.each(['random-forest', 'boosted-trees'])('is the same however it is asked: %s', (family) => {
    const { model } = fitted(family, outcomes.event, { trees: 30 });
    const ask = askOf(model, { kind: 'event' });
    const askAltered = askAlteredOf(model, { kind: 'event' });
    const truth = new Float64Array(rows.length);
    for (const { name } of predictors) {
      const each = effectOf(ask, development, name, truth, true);
      const atOnce = effectOf(ask, development, name, truth, true, askAltered);
      expect(atOnce.at).toEqual(each.at);
      atOnce.mean.forEach((value, k) => expect(value).toBeCloseTo(each.mean[k], 12));
      atOnce.accumulated?.said.forEach((value, k) =>
        expect(value).toBeCloseTo(each.accumulated!.said[k], 12),
      );
    }
  });
});

describe('what predictors add up to', () => {
  it('is the risk after balancing, in log-odds', () => {
    const { model } = fitted(
      'logistic',
      outcomes.event,
      {},
      { balancing: { way: 'fewer others', share: 0.5 } },
    );
    const found = addedUp(model, patients, development)!;
    const risks = caseScores(scoreRows(model, patients, some.length).predictions, {
      kind: 'event',
    });
    risks.forEach((risk, i) =>
      expect(found.values.reduce((sum, own) => sum + own[i], found.base)).toBeCloseTo(
        logOdds(risk),
        9,
      ),
    );
  });

  it('is not told where the model is no sum', () => {
    for (const family of ['nearest-patients', 'naive-bayes'])
      expect(
        addedUp(fitted(family, outcomes.event, {}).model, patients, development),
      ).toBeUndefined();
    expect(
      addedUp(fitted('boosted-trees', outcomes.levels, trees).model, patients, development, [2]),
    ).toBeUndefined();
  });
});
