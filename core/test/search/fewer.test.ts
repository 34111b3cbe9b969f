import { Matrix, solve } from 'ml-matrix';
import { describe, expect, it } from 'vitest';
import { entryOrder, familyOf, FitObstacle, type Settings } from '../../src/families/index.ts';
import { areaUnderCurve } from '../../src/measures/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { numbersOf, predictionsOf, takeOutcome, type Outcome } from '../../src/outcome/index.ts';
import type { PredictorColumn } from '../../src/preparation/index.ts';
import {
  chooseTried,
  fewerFits,
  fewerPlanSchema,
  fewerTried,
  fewerWays,
  fieldsTried,
  halfSamples,
  rankPredictors,
  searchPlanSchema,
  setsOf,
  steadiness,
  tryFewer,
  type FewerPlan,
  type FewerTask,
  type JudgedBy,
  type TriedOnPart,
} from '../../src/search/index.ts';
import { fitPart, planParts, type FitPart } from '../../src/tuning/index.ts';
import { columnsOf, standardised } from '../reference/sets.ts';
import { loadValues } from '../reference/load.ts';

const planOf = (part: Partial<FewerPlan>): FewerPlan =>
  fewerPlanSchema.parse({ way: 'backward', halves: 0, ...part });
const sizesOf = (part: Partial<FewerPlan>, all: number) =>
  fewerTried(
    planOf(part),
    Array.from({ length: all }, (_, i) => `p${i}`),
  ).map(({ predictors }) => predictors);

const by: JudgedBy = { cases: { kind: 'event' }, costs: { missedCost: 4, falseAlarmCost: 1 } };

describe('what a selection compares', () => {
  it('is every number down to one, and several at a time where they are many', () => {
    expect(sizesOf({}, 5)).toEqual([5, 4, 3, 2, 1]);
    expect(sizesOf({}, 30)).toEqual([30, 24, 20, ...Array.from({ length: 19 }, (_, i) => 19 - i)]);
    expect(sizesOf({ pinned: ['p0', 'p1'] }, 5)).toEqual([5, 4, 3, 2]);
    expect(sizesOf({ pinned: Array.from({ length: 22 }, (_, i) => `p${i}`) }, 30)).toEqual([
      30, 24, 22,
    ]);
  });

  it('goes forward to so many, with all of them beside', () => {
    expect(sizesOf({ way: 'forward', most: 3 }, 8)).toEqual([8, 3, 2, 1]);
    expect(sizesOf({ way: 'forward', most: 9 }, 4)).toEqual([4, 3, 2, 1]);
    expect(sizesOf({ way: 'forward', pinned: ['p0'], most: 3 }, 8)).toEqual([8, 3, 2, 1]);
    expect(sizesOf({ way: 'forward' }, 30)[1]).toBe(10);
  });

  it('is refused in a sentence where it makes no sense', () => {
    const refused = (part: Partial<FewerPlan>) => () => fewerTried(planOf(part), ['age', 'urea']);
    expect(refused({ pinned: ['age', 'urea'] })).toThrow('nothing to select');
    expect(refused({ pinned: ['weight'] })).toThrow('“weight” is not among the predictors');
    const set = (name: string, predictors: string[]) => ({ name, predictors });
    expect(refused({ way: 'sets', sets: [set('one', ['age'])] })).toThrow('two sets');
    expect(refused({ way: 'sets', sets: [set('a', ['age']), set('a', ['urea'])] })).toThrow(
      'the same name',
    );
    expect(refused({ way: 'sets', sets: [set('a', ['age']), set('b', ['pulse'])] })).toThrow(
      '“pulse” of the set “b”',
    );
    expect(() => fewerTried(planOf({}), ['age'])).toThrow('nothing to select');
  });

  it('leaves the pinned in, and takes the others as they are ranked, in the order of the table', () => {
    const names = ['a', 'b', 'c', 'd'];
    const plan = planOf({ pinned: ['d'] });
    expect(setsOf(plan, names, ['c', 'a', 'b'])).toEqual([
      names,
      ['a', 'c', 'd'],
      ['c', 'd'],
      ['d'],
    ]);
    const sets = [
      { name: 'labs', predictors: ['c', 'b'] },
      { name: 'age alone', predictors: ['a'] },
    ];
    const own = planOf({ way: 'sets', sets });
    expect(setsOf(own, names)).toEqual([['b', 'c'], ['a']]);
    expect(fewerTried(own, names)).toEqual([
      { set: 'labs', predictors: 2 },
      { set: 'age alone', predictors: 1 },
    ]);
  });

  it('is simplest where predictors are fewest', () => {
    const at = (predictors: number, value: number) => ({
      settings: { predictors },
      figure: { value, error: 0.02 },
    });
    const fields = fieldsTried(familyOf('logistic').description, { fewer: planOf({}) });
    const tried = [at(4, 0.8), at(3, 0.81), at(2, 0.795), at(1, 0.7)];
    const choice = chooseTried(tried, { better: 'higher' }, fields)!;
    expect([choice.best, choice.simplest]).toEqual([1, 2]);
    expect(fieldsTried(familyOf('logistic').description, {})[0].name).not.toBe('predictors');
  });

  it('is told as a plan of a search, with what is left out as usual', () => {
    const { fewer } = searchPlanSchema.parse({
      tried: {},
      fixed: {},
      way: { kind: 'all' },
      measure: 'auc',
      fewer: { way: 'path' },
    });
    expect(fewer).toEqual({ way: 'path', pinned: [], sets: [], halves: 50 });
  });
});

describe('rankings against least squares by hand', () => {
  // Birth weight of 189 births (Hosmer & Lemeshow 2000), the two thirds that are learned from and the rest.
  const names = ['age', 'lwt', 'smoke', 'ptl', 'ht', 'ui'];
  const { columns } = columnsOf('birthwt', [...names, 'bwt']);
  const weights = columns[6];
  const rows = Int32Array.from(weights.keys());
  const part: FitPart = {
    name: 'half 1',
    learnRows: rows.filter((row) => row % 3 !== 0),
    predictRows: rows.filter((row) => row % 3 === 0),
  };
  const predictors = names.map((name, j): PredictorColumn => ({
    name,
    type: 'number',
    values: columns[j],
  }));
  const outcome: Outcome = { kind: 'number', values: weights };
  const task = (part: Partial<FewerPlan>): FewerTask => ({
    predictors,
    outcome,
    recipe: { family: 'linear', seed: 1 },
    settings: {},
    plan: planOf(part),
  });

  /** Mean squared error in those who are told, by the normal equations. */
  function byHand(some: string[]): number {
    const design = (of: Int32Array) =>
      new Matrix(
        Array.from(of, (row) => [1, ...some.map((one) => columns[names.indexOf(one)][row])]),
      );
    const x = design(part.learnRows);
    const y = Matrix.columnVector(Array.from(part.learnRows, (row) => weights[row]));
    const b = solve(x.transpose().mmul(x), x.transpose().mmul(y));
    const said = design(part.predictRows).mmul(b);
    const squares = Array.from(part.predictRows, (row, i) => (weights[row] - said.get(i, 0)) ** 2);
    return squares.reduce((sum, one) => sum + one, 0) / squares.length;
  }
  const bestOf = (sets: { name: string; loss: number }[]) =>
    sets.reduce((best, one) => (one.loss < best.loss ? one : best)).name;

  it('forward: takes what makes the squared error least', () => {
    const taken: string[] = [];
    while (taken.length < 5)
      taken.push(
        bestOf(
          names
            .filter((name) => !taken.includes(name))
            .map((name) => ({ name, loss: byHand([...taken, name]) })),
        ),
      );
    expect(rankPredictors(part, task({ way: 'forward', most: 5 }))).toEqual(taken);
    expect(rankPredictors(part, task({ way: 'forward', most: 2 }))).toEqual(taken.slice(0, 2));
  });

  it('backward, by leaving each out: lets go without what it is least', () => {
    let left = names;
    const gone: string[] = [];
    while (left.length > 1) {
      const name = bestOf(
        left.map((one) => ({ name: one, loss: byHand(left.filter((other) => other !== one)) })),
      );
      gone.push(name);
      left = left.filter((one) => one !== name);
    }
    expect(rankPredictors(part, task({ way: 'left out' }))).toEqual([
      ...left,
      ...gone.toReversed(),
    ]);
  });

  it('keeps what is pinned out of the ranking, and ranks the rest beside it', () => {
    const pinned = ['ht', 'age'];
    const first = bestOf(
      names
        .filter((name) => !pinned.includes(name))
        .map((name) => ({ name, loss: byHand([...pinned, name]) })),
    );
    const ranked = rankPredictors(part, task({ way: 'forward', most: 3, pinned }));
    expect(ranked).toEqual([first]);
    for (const { way } of fewerWays.filter(({ way }) => way !== 'sets')) {
      const rest = rankPredictors(part, task({ way, pinned }));
      expect(rest.filter((name) => pinned.includes(name))).toEqual([]);
    }
  });
});

describe('the order of a penalty path', () => {
  it('is that of the exact lasso of birth weight', () => {
    // A proximal Newton solver, cross-checked as the file says.
    const { predictors, results, first_to_enter_lasso } = loadValues<{
      predictors: string[];
      first_to_enter_lasso: string;
      results: { alpha: number; lam: number; coefficients: Record<string, number> }[];
    }>('penalised_birthwt');
    const { columns, names, rowCount } = columnsOf('birthwt', [
      'age',
      'lwt',
      'race',
      'smoke',
      'ptl',
      'ht',
      'ui',
      'ftv',
      'low',
    ]);
    const of = (name: string) => columns[names.indexOf(name)];
    const columnOf = (name: string) =>
      name.startsWith('race')
        ? of('race').map((race) => Number(race === Number(name.at(-1))))
        : of(name);
    const outcome: Outcome = { kind: 'event', values: Int8Array.from(of('low')) };
    const inputs = {
      rowCount,
      names: predictors,
      columns: predictors.map((name) => standardised(columnOf(name))),
    };
    const places = entryOrder(inputs, outcome);
    expect(predictors[places.indexOf(0)]).toBe(first_to_enter_lasso);
    const lassos = results.filter(({ alpha }) => alpha === 1).sort((a, b) => b.lam - a.lam);
    const countAt = (coefficients: (typeof lassos)[number]['coefficients']) =>
      Object.values(coefficients).flatMap((one, j) => (one === 0 ? [] : [j]));
    let compared = 0;
    for (const { coefficients } of lassos) {
      const inside = countAt(coefficients);
      const outside = [...predictors.keys()].filter((j) => !inside.includes(j));
      for (const one of inside)
        for (const other of outside) {
          expect(places[one]).toBeLessThan(places[other]);
          compared++;
        }
    }
    expect(compared).toBeGreaterThan(15);
  });

  it('leaves what does not vary for the end, and is of each kind of outcome', () => {
    const draw = randomStream(4, 'path');
    const signal = Float64Array.from({ length: 90 }, () => draw.normal());
    const noise = signal.map(() => draw.normal());
    const inputs = {
      rowCount: 90,
      names: ['same', 'noise', 'signal'],
      columns: [new Float64Array(90).fill(3), noise, signal],
    };
    const score = Array.from(signal, (one) => one + 0.3 * draw.normal());
    const outcomes: Outcome[] = [
      { kind: 'event', values: Int8Array.from(score, (one) => Number(one > 0.4)) },
      { kind: 'number', values: Float64Array.from(score) },
      {
        kind: 'levels',
        levels: ['low', 'mid', 'high'],
        ordered: true,
        values: Int32Array.from(score, (one) => Number(one > -0.4) + Number(one > 0.6)),
      },
    ];
    for (const outcome of outcomes) {
      const places = entryOrder(inputs, outcome);
      expect(places[2]).toBe(0);
      expect(places[0]).toBe(Infinity);
    }
    expect(entryOrder({ rowCount: 90, names: [], columns: [] }, outcomes[0])).toEqual([]);
  });
});

/** Made-up patients: two labs and a ward tell, the others do not; some gaps. */
const patients = 240;
const draw = randomStream(11, 'patients of a selection');
const normal = () => Float64Array.from({ length: patients }, () => draw.normal());
const [urea, lactate] = [normal(), normal()];
const ward = Int32Array.from({ length: patients }, () => Math.floor(3 * draw.uniform()));
const made: PredictorColumn[] = [
  { name: 'pulse', type: 'number', values: normal() },
  { name: 'urea', type: 'number', values: urea.map((one) => (draw.uniform() < 0.1 ? NaN : one)) },
  { name: 'height', type: 'number', values: normal() },
  { name: 'ward', type: 'coded', codes: ward, levels: ['A', 'B', 'C'] },
  { name: 'lactate', type: 'number', values: lactate },
  { name: 'sodium', type: 'number', values: normal() },
];
const rows = Int32Array.from({ length: patients }, (_, i) => i);
const score = Array.from(
  rows,
  (i) => 1.5 * lactate[i] + 1.2 * urea[i] + (ward[i] === 1 ? 1.2 : 0) + draw.normal(),
);
const outcomes: Record<Outcome['kind'], Outcome> = {
  event: { kind: 'event', values: Int8Array.from(score, (one) => Number(one > 1)) },
  levels: {
    kind: 'levels',
    levels: ['none', 'mild', 'severe'],
    ordered: true,
    values: Int32Array.from(score, (one) => Number(one > 0) + Number(one > 1.5)),
  },
  number: { kind: 'number', values: Float64Array.from(score) },
};
const byKind: Record<Outcome['kind'], JudgedBy> = {
  event: by,
  levels: { ...by, cases: { kind: 'levels', levels: ['severe'] } },
  number: { ...by, cases: { kind: 'number', value: 1, side: 'from' } },
};
const folds = Uint8Array.from(rows, (i) => (i * 7) % 3);
const parts = planParts(rows, folds, new Int32Array(0));
const selecting = (
  family: string,
  kind: Outcome['kind'],
  plan: Partial<FewerPlan>,
  settings: Settings = {},
): FewerTask => ({
  predictors: made,
  outcome: outcomes[kind],
  recipe: { family, seed: 5 },
  settings,
  plan: planOf(plan),
});
const names = made.map(({ name }) => name);

const telling: { family: string; kind: Outcome['kind']; settings?: Settings }[] = [
  { family: 'logistic', kind: 'event' },
  { family: 'decision-tree', kind: 'event', settings: { size: 'leaves', leaves: 8 } },
  { family: 'random-forest', kind: 'levels', settings: { trees: 60 } },
  { family: 'linear', kind: 'number' },
  {
    family: 'nearest-patients',
    kind: 'number',
    settings: { neighboursBy: 'given', neighbours: 9 },
  },
];

describe.each(fewerWays.filter(({ way }) => way !== 'sets'))('selection: $way', ({ way }) => {
  it.each(telling)('finds what tells: $family, $kind', ({ family, kind, settings }) => {
    const ranked = rankPredictors(parts[0], selecting(family, kind, { way, most: 5 }, settings));
    expect(new Set(ranked.slice(0, 2))).toEqual(new Set(['lactate', 'urea']));
  });

  it('does not look at whoever is predicted', () => {
    const task = selecting('logistic', 'event', { way });
    const found = tryFewer(parts[1], task, by);
    const { values } = task.outcome as Outcome<'event'>;
    const turned = values.slice();
    for (const row of parts[1].predictRows) turned[row] = 1 - turned[row];
    const other = tryFewer(parts[1], { ...task, outcome: { kind: 'event', values: turned } }, by);
    expect(other.ranked).toEqual(found.ranked);
    expect(other.tried!.map((one) => numbersOf((one as TriedOnPart).predictions))).toEqual(
      found.tried!.map((one) => numbersOf((one as TriedOnPart).predictions)),
    );
  });

  it('is the same in any order of the columns', () => {
    const task = selecting('logistic', 'event', { way });
    const other = { ...task, predictors: made.toReversed() };
    expect(rankPredictors(parts[2], other)).toEqual(rankPredictors(parts[2], task));
  });

  it('only ranks where nobody is to be predicted', () => {
    const found = tryFewer(parts[3], selecting('logistic', 'event', { way }), by);
    expect(parts[3].name).toBe('all');
    expect(found.tried).toBeUndefined();
    expect(found.ranked.slice(0, 2).sort()).toEqual(['lactate', 'urea']);
  });
});

describe('values that are mixed up', () => {
  // A step that changes nothing has every column prepared anew, instead of what is made of one alone.
  const steps = [{ step: 'rename levels' as const, column: 'nobody', into: {} }];
  const gapsTogether = made.map((column) =>
    column.name === 'pulse'
      ? { ...column, values: (column as typeof column & { type: 'number' }).values.slice() }
      : column,
  );
  const [pulse, ureas] = ['pulse', 'urea'].map(
    (name) => gapsTogether.find((one) => one.name === name) as PredictorColumn & { type: 'number' },
  );
  ureas.values.forEach((value, i) => {
    if (Number.isNaN(value)) pulse.values[i] = NaN;
  });

  it.each(telling.filter(({ kind }) => kind !== 'levels'))(
    'rank alike, prepared anew or not: $family',
    ({ family, kind, settings }) => {
      for (const predictors of [made, gapsTogether]) {
        const task = { ...selecting(family, kind, {}, settings), predictors };
        const anew = { ...task, recipe: { ...task.recipe, steps } };
        for (const part of parts.slice(0, 2))
          expect(rankPredictors(part, task)).toEqual(rankPredictors(part, anew));
      }
    },
  );
});

describe('what was selected', () => {
  it.each(telling)('is fitted as a candidate of these predictors: $family', (one) => {
    const task = selecting(one.family, one.kind, { way: 'path' }, one.settings);
    const { ranked, tried } = tryFewer(parts[0], task, byKind[one.kind]);
    const sets = setsOf(task.plan, names, ranked);
    expect(tried).toHaveLength(6);
    sets.forEach((own, i) => {
      const some = made.filter(({ name }) => own.includes(name));
      const whole = { ...task.recipe, settings: task.settings };
      const alone = fitPart(parts[0], some, task.outcome, whole);
      expect(numbersOf((tried![i] as TriedOnPart).predictions)).toEqual(
        numbersOf(alone.predictions),
      );
    });
  });

  it('has sets of the analyst’s own as they are', () => {
    const sets = [
      { name: 'labs', predictors: ['lactate', 'urea'] },
      { name: 'body', predictors: ['height', 'pulse'] },
    ];
    const task = selecting('logistic', 'event', { way: 'sets', sets });
    const { tried, ranked } = tryFewer(parts[0], task, by);
    expect(ranked).toEqual([]);
    const told = takeOutcome(outcomes.event, parts[0].predictRows) as Outcome<'event'>;
    const areas = tried!.map(
      (one) =>
        areaUnderCurve(predictionsOf((one as TriedOnPart).predictions, 'event').risks, told.values)!
          .value,
    );
    expect(areas[0]).toBeGreaterThan(0.85);
    expect(areas[1]).toBeLessThan(0.65);
  });

  it('cannot be ranked where the family cannot be fitted, in a sentence', () => {
    const nobody: Outcome = { kind: 'event', values: new Int8Array(patients) };
    const task = { ...selecting('logistic', 'event', {}), outcome: nobody };
    expect(() => tryFewer(parts[0], task, by)).toThrow(FitObstacle);
  });

  it('takes as many fits as it says', () => {
    // Counted by hand: 5 steps back in 3 inner folds, and 6 sets; each left out: 6+5+4+3+2; forward to 2: 6+5.
    expect(fewerFits(planOf({}), 6)).toEqual({ fold: 21, all: 15, half: 5 });
    expect(fewerFits(planOf({ way: 'left out' }), 6)).toEqual({ fold: 66, all: 60, half: 20 });
    expect(fewerFits(planOf({ way: 'forward', most: 2 }), 6)).toEqual({
      fold: 36,
      all: 33,
      half: 11,
    });
    expect(fewerFits(planOf({ way: 'path' }), 6)).toEqual({ fold: 7, all: 1, half: 1 });
  });
});

describe('half samples', () => {
  it('come in pairs that share nobody, each with its share of cases', () => {
    const halves = halfSamples(rows, outcomes.event, 6, 9);
    const cases = (of: Int32Array) =>
      Array.from(of).filter((row) => outcomes.event.values[row]).length;
    const all = cases(rows);
    for (const [k, { name, learnRows, predictRows }] of halves.entries()) {
      expect(name).toBe(`half ${k + 1}`);
      expect([...learnRows, ...predictRows].sort((a, b) => a - b)).toEqual([...rows]);
      expect(learnRows.length).toBe(120);
      expect(Math.abs(2 * cases(learnRows) - all)).toBeLessThanOrEqual(1);
    }
    expect(halves[1].learnRows).toEqual(halves[0].predictRows);
    expect(halves[2].learnRows).not.toEqual(halves[0].learnRows);
    const numbers = halfSamples(rows, outcomes.number, 4, 9);
    expect(numbers[2].learnRows).not.toEqual(numbers[0].learnRows);
  });

  it('tell how often each is among the selected', () => {
    const plan = planOf({ pinned: ['d'] });
    const found = steadiness(
      plan,
      ['a', 'b', 'c', 'd'],
      [
        ['a', 'b', 'c'],
        ['a', 'c', 'b'],
        ['b', 'a', 'c'],
      ],
    );
    // With 4, 3, 2 and 1 predictors, d always among them.
    expect(found).toEqual([
      { predictor: 'a', times: [3, 3, 2, 0] },
      { predictor: 'b', times: [3, 2, 1, 0] },
      { predictor: 'c', times: [3, 1, 0, 0] },
      { predictor: 'd', times: [3, 3, 3, 3] },
    ]);
  });
});

describe('predictors that know nothing', () => {
  // Ambroise & McLachlan (2002): selected outside of the folds, the best few of many look as if they told.
  const count = 60;
  const noise = (seed: number) => {
    const own = randomStream(seed, 'noise');
    const predictors = Array.from({ length: 60 }, (_, j): PredictorColumn => ({
      name: `p${j}`,
      type: 'number',
      values: Float64Array.from({ length: count }, () => own.normal()),
    }));
    const values = Int8Array.from({ length: count }, (_, i) => i % 2);
    return { predictors, outcome: { kind: 'event', values } satisfies Outcome };
  };
  const own = Int32Array.from({ length: count }, (_, i) => i);
  const dealt = Uint8Array.from(own, (i) => (i >> 1) % 5);
  const plan = planOf({ way: 'path' });

  it('come out at an AUC of a half, and at more where all are looked at for the choice', () => {
    const [inside, outside] = [0, 0].map(() => [] as number[]);
    for (let seed = 1; seed <= 5; seed++) {
      const { predictors, outcome } = noise(seed);
      const task = {
        predictors,
        outcome,
        recipe: { family: 'logistic', seed },
        settings: {},
        plan,
      };
      const sets = fewerTried(
        plan,
        predictors.map(({ name }) => name),
      );
      const three = sets.findIndex(({ predictors: size }) => size === 3);
      const ofAll = rankPredictors({ name: 'all', learnRows: own, predictRows: own }, task);
      const chosen = predictors.filter(({ name }) => ofAll.slice(0, 3).includes(name));
      const risks = [new Float64Array(count), new Float64Array(count)];
      for (const part of planParts(own, dealt, new Int32Array(0)).slice(0, 5)) {
        const { tried } = tryFewer(part, task, by);
        const said = [
          (tried![three] as TriedOnPart).predictions,
          fitPart(part, chosen, outcome, { ...task.recipe, settings: {} }).predictions,
        ];
        said.forEach((one, k) =>
          predictionsOf(one, 'event').risks.forEach(
            (risk, i) => (risks[k][part.predictRows[i]] = risk),
          ),
        );
      }
      inside.push(areaUnderCurve(risks[0], outcome.values)!.value);
      outside.push(areaUnderCurve(risks[1], outcome.values)!.value);
    }
    const mean = (values: number[]) => values.reduce((sum, one) => sum + one, 0) / values.length;
    // Standard error of a mean of five: about 0.04. Out of fold, the AUC of noise lies a little below a half.
    expect(mean(inside)).toBeGreaterThan(0.3);
    expect(mean(inside)).toBeLessThan(0.62);
    expect(mean(outside)).toBeGreaterThan(0.7);
  });
});
