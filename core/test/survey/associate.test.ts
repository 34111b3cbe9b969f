import { describe, expect, it } from 'vitest';
import { gradesOf, randomStream } from '../../src/numeric/index.ts';
import {
  associateOnce,
  associationMap,
  associationRows,
  mapOfRows,
  byLevel,
  grouped,
  momentsOfGroups,
  chiSquareTest,
  correlation,
  correlationInterval,
  correlationP,
  crossTable,
  inflationFactors,
  localRegression,
  rankCorrelateGrades,
  rankSumTest,
  rankTestOfGroups,
  varianceBetween,
  viewTwoCategories,
  viewPairs,
  viewTwoNumbers,
  welch,
  type Measured,
} from '../../src/survey/index.ts';
import type { Kind, Table } from '../../src/table/index.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';
import { completeUrine } from './urine.ts';

const ranks = (a: ArrayLike<number>, b: ArrayLike<number>) =>
  rankCorrelateGrades(gradesOf(a), gradesOf(b));
const relative = (found: number, expected: number) => Math.abs(found / expected - 1);
const draw = randomStream(11, 'associate test');
const normals = (count: number) => Float64Array.from({ length: count }, () => draw.normal());

interface Groups {
  t_welch: { t: number; df: number; p: number; difference_ci95: [number, number] };
  mann_whitney: {
    u_first: number;
    auc_first_greater: number;
    p_normal_tie_corrected_continuity: number;
  };
}
interface Cross {
  table: number[][];
  chi2: number;
  df: number;
  p: number;
  cramers_v: number;
}
const values = loadValues<{
  by_r: Record<string, Groups>;
  point_biserial_with_r: Record<string, { r: number; p: number }>;
  birthwt: {
    lwt_by_low: Groups;
    race_by_low: Cross;
    smoke_by_low: Cross;
    bwt_by_race: {
      f: number;
      df: [number, number];
      p: number;
      eta_squared: number;
      kruskal_wallis: { h_tie_corrected: number; df: number; p: number };
    };
  };
}>('survey_urine_birthwt');

describe('two groups beside an independent library (relative 1e-9)', () => {
  const urine = completeUrine();
  const birthwt = loadTable('birthwt');
  const cases: [string, () => Float64Array[], Groups][] = [
    ...Object.entries(values.by_r).map(
      ([name, expected]): [string, () => Float64Array[], Groups] => [
        `urine: ${name} by crystals`,
        () => byLevel(urine(name), urine('r'), 2),
        expected,
      ],
    ),
    [
      'birthwt: mother’s weight by low weight',
      () => byLevel(numbers(birthwt, 'lwt'), numbers(birthwt, 'low'), 2),
      values.birthwt.lwt_by_low,
    ],
  ];
  it.each(cases)('%s', (_, groups, expected) => {
    const two = grouped(groups());
    const means = welch(momentsOfGroups(two))!;
    expect(relative(means.t, expected.t_welch.t)).toBeLessThan(1e-9);
    expect(relative(means.degreesOfFreedom, expected.t_welch.df)).toBeLessThan(1e-9);
    expect(relative(means.p, expected.t_welch.p)).toBeLessThan(1e-9);
    // The library's own quantile of t is good to about 1e-9.
    means.interval.forEach((end, i) =>
      expect(relative(end, expected.t_welch.difference_ci95[i])).toBeLessThan(1e-8),
    );
    const ranks = rankSumTest(two)!;
    const { u_first, auc_first_greater, p_normal_tie_corrected_continuity } = expected.mann_whitney;
    expect(ranks.u).toBe(u_first);
    expect(relative(ranks.area, auc_first_greater)).toBeLessThan(1e-9);
    expect(relative(ranks.p, p_normal_tie_corrected_continuity)).toBeLessThan(1e-9);
  });

  it('says nothing where nothing can be said', () => {
    const means = (...lists: number[][]) => welch(momentsOfGroups(grouped(lists)));
    expect(means([1], [2, 3])).toBeUndefined();
    expect(means([2, 2], [2, 2])).toBeUndefined();
    expect(rankSumTest(grouped([[], [1]]))).toBeUndefined();
    expect(rankSumTest(grouped([[4, 4], [4]]))).toBeUndefined();
  });
});

describe('several groups', () => {
  const birthwt = loadTable('birthwt');
  const lists = byLevel(
    numbers(birthwt, 'bwt'),
    numbers(birthwt, 'race').map((race) => race - 1),
    3,
  );
  const variance = (...groups: ArrayLike<number>[]) =>
    varianceBetween(momentsOfGroups(grouped(groups)));
  const expected = values.birthwt.bwt_by_race;

  it('Kruskal & Wallis and variance between, beside an independent library (relative 1e-9)', () => {
    const ranks = rankTestOfGroups(grouped(lists))!;
    expect(relative(ranks.statistic, expected.kruskal_wallis.h_tie_corrected)).toBeLessThan(1e-9);
    expect(ranks.degreesOfFreedom).toBe(2);
    expect(relative(ranks.p, expected.kruskal_wallis.p)).toBeLessThan(1e-9);
    const between = variance(...lists)!;
    expect(relative(between.f, expected.f)).toBeLessThan(1e-9);
    expect(between.degreesOfFreedom).toEqual(expected.df);
    expect(relative(between.p, expected.p)).toBeLessThan(1e-9);
    expect(relative(between.share, expected.eta_squared)).toBeLessThan(1e-9);
  });

  it('passes over empty groups and meets groups without spread', () => {
    const more = [...lists, []];
    expect(variance(...more)).toEqual(variance(...lists));
    expect(rankTestOfGroups(grouped(more))).toEqual(rankTestOfGroups(grouped(lists)));
    expect(variance(lists[0])).toBeUndefined();
    expect(variance([1, 1], [2, 2])).toMatchObject({ share: 1, p: 0 });
    expect(rankTestOfGroups(grouped([[1, 1], [1]]))).toBeUndefined();
  });
});

describe('cross tables beside an independent library (relative 1e-9)', () => {
  it.each([
    ['race by low weight', values.birthwt.race_by_low],
    ['smoking by low weight', values.birthwt.smoke_by_low],
  ])('%s', (_, expected) => {
    const test = chiSquareTest(expected.table)!;
    expect(relative(test.statistic, expected.chi2)).toBeLessThan(1e-9);
    expect(test.degreesOfFreedom).toBe(expected.df);
    expect(relative(test.p, expected.p)).toBeLessThan(1e-9);
    expect(relative(test.cramersV, expected.cramers_v)).toBeLessThan(1e-9);
  });

  it('is counted from codes, gaps left out', () => {
    expect(crossTable([0, 1, 1, -1, 0], 2, [1, 0, 0, 1, -1], 2)).toEqual({
      counts: [
        [0, 1],
        [2, 0],
      ],
      patients: 3,
    });
  });

  it('does not count empty levels, and needs two of each', () => {
    const [[a, b], [c, d]] = values.birthwt.smoke_by_low.table;
    const padded = [
      [a, 0, b],
      [0, 0, 0],
      [c, 0, d],
    ];
    expect(chiSquareTest(padded)).toEqual(chiSquareTest(values.birthwt.smoke_by_low.table));
    expect(chiSquareTest([[3, 4]])).toBeUndefined();
    expect(
      chiSquareTest([
        [3, 0],
        [4, 0],
      ]),
    ).toBeUndefined();
    expect(viewTwoCategories({ codes: [0, 0], levels: 1 }, { codes: [0, 1], levels: 2 })).toEqual({
      counts: [[1, 1]],
      patients: 2,
      test: undefined,
    });
  });
});

describe('correlations', () => {
  it('point-biserial with its p, beside an independent library (relative 1e-9)', () => {
    const urine = completeUrine();
    for (const [name, { r, p }] of Object.entries(values.point_biserial_with_r)) {
      const found = correlation(urine(name), urine('r'));
      expect(relative(found, r), name).toBeLessThan(1e-9);
      expect(relative(correlationP(found, 77), p), name).toBeLessThan(1e-9);
    }
  });

  it('of ranks among the rows both have is what ranking those rows alone gives', () => {
    const [a, b] = [normals(300), normals(300)];
    for (let i = 0; i < 300; i++) {
      b[i] = Math.round(2 * (a[i] + b[i]));
      if (i % 7 === 0) a[i] = NaN;
      if (i % 11 === 0) b[i] = NaN;
    }
    const both = Array.from(a.keys()).filter((i) => !Number.isNaN(a[i]) && !Number.isNaN(b[i]));
    const only = (values: Float64Array) => Float64Array.from(both, (i) => values[i]);
    const found = ranks(a, b);
    expect(found.patients).toBe(both.length);
    expect(found.value).toBeCloseTo(ranks(only(a), only(b)).value, 14);
  });

  it('have the interval of Fisher (1921), by hand', () => {
    // r 0.5 of 28: atanh 0.549306 ± 1.959964/5, back through tanh: 0.1560 to 0.7358.
    const [low, high] = correlationInterval(0.5, 28)!;
    expect(low).toBeCloseTo(0.156, 4);
    expect(high).toBeCloseTo(0.7358, 4);
    const [rankLow, rankHigh] = correlationInterval(0.5, 28, true)!;
    expect(rankLow).toBeLessThan(low);
    expect(rankHigh).toBeGreaterThan(high);
    expect(correlationInterval(1, 28)).toBeUndefined();
    expect(correlationInterval(0.2, 4)).toBeUndefined();
  });

  it('cover what they should: the interval holds the true value about 95 times in 100', () => {
    let held = 0;
    for (let trial = 0; trial < 400; trial++) {
      const [x, noise] = [normals(60), normals(60)];
      const y = x.map((value, i) => 0.6 * value + 0.8 * noise[i]);
      const [low, high] = correlationInterval(correlation(x, y), 60)!;
      if (low <= 0.6 && 0.6 <= high) held++;
    }
    expect(held / 400).toBeGreaterThan(0.92);
    expect(held / 400).toBeLessThan(0.98);
  });
});

describe('local regression', () => {
  it('gives back a straight line exactly, and passes over gaps', () => {
    const x = [0, 1, 2, NaN, 3, 5, 8, 13, 21];
    const line = localRegression(
      x,
      x.map((value) => 3 - 2 * value),
    );
    expect(line).toHaveLength(60);
    for (const point of line) expect(point.y).toBeCloseTo(3 - 2 * point.x, 9);
  });

  it('follows a bend closer with a narrower span', () => {
    const x = Float64Array.from({ length: 500 }, (_, i) => i / 50);
    const y = x.map((value) => Math.sin(value));
    const worst = (span: number) =>
      Math.max(
        ...localRegression(x, y, span).map((point) => Math.abs(point.y - Math.sin(point.x))),
      );
    expect(worst(0.1)).toBeLessThan(0.05);
    expect(worst(0.9)).toBeGreaterThan(0.3);
  });

  it('meets ties and columns that do not vary', () => {
    const tied = localRegression([1, 1, 1, 1, 2, 2, 2, 2], [0, 2, 0, 2, 4, 6, 4, 6], 0.5);
    expect(tied[0].y).toBeCloseTo(1, 9);
    expect(tied.at(-1)!.y).toBeCloseTo(5, 9);
    expect(localRegression([1, 1, 1, 1], [1, 2, 3, 4])).toEqual([]);
    expect(localRegression([1, 2], [1, 2])).toEqual([]);
  });
});

function measured(table: Table, name: string, kind?: Kind): Measured {
  const i = table.dictionary.findIndex((entry) => entry.name === name);
  return { name, kind: kind ?? table.dictionary[i].kind, column: table.columns[i] };
}

describe('the association of any two kinds', () => {
  const birthwt = loadTable('birthwt', (dictionary) => {
    dictionary.find(({ name }) => name === 'race')!.kind = 'category';
    dictionary.find(({ name }) => name === 'ftv')!.kind = 'ordered category';
  });
  const pair = (a: string, b: string, ranked = false) =>
    associateOnce(measured(birthwt, a), measured(birthwt, b), ranked)!;

  it('follows the kinds, whichever comes first', () => {
    expect(pair('bwt', 'lwt').measure).toBe('Pearson');
    expect(pair('bwt', 'lwt', true).measure).toBe('Spearman');
    expect(pair('bwt', 'smoke', true).measure).toBe('point-biserial');
    expect(pair('smoke', 'low').measure).toBe('phi');
    expect(pair('ftv', 'bwt').measure).toBe('Spearman');
    for (const [a, b] of [
      ['race', 'low'],
      ['bwt', 'race'],
      ['ftv', 'smoke'],
    ])
      expect(pair(a, b)).toEqual(pair(b, a));
  });

  it('is the V, phi and correlation ratio of the independent library', () => {
    expect(relative(pair('race', 'low').value, values.birthwt.race_by_low.cramers_v)).toBeLessThan(
      1e-9,
    );
    expect(
      relative(pair('smoke', 'low').value, values.birthwt.smoke_by_low.cramers_v),
    ).toBeLessThan(1e-9);
    const eta = Math.sqrt(values.birthwt.bwt_by_race.eta_squared);
    expect(relative(pair('race', 'bwt').value, eta)).toBeLessThan(1e-9);
  });

  it('is mapped for all columns, like the pairs one by one, and like stands by like', () => {
    const names = ['age', 'lwt', 'race', 'smoke', 'ptl', 'ht', 'ui', 'ftv', 'bwt', 'low'];
    const columns = names.map((name) => measured(birthwt, name));
    const map = associationMap(columns, true);
    expect(map.names).toEqual(names);
    names.forEach((_, i) =>
      names.slice(0, i).forEach((__, j) => {
        const alone = associateOnce(columns[i], columns[j], true)!;
        expect(map.cells[i][j]!.measure).toBe(alone.measure);
        expect(map.cells[i][j]!.value).toBeCloseTo(alone.value, 14);
      }),
    );
    expect([...map.order].sort((a, b) => a - b)).toEqual(names.map((_, i) => i));
    // Low weight is birth weight under 2500 g: the two go together most of all.
    const place = (name: string) => map.order.indexOf(names.indexOf(name));
    expect(Math.abs(place('bwt') - place('low'))).toBe(1);
    // Shared out, row by row, it is the same map.
    const rows = names.map((__, i) => associationRows(columns, true, [i])[0]);
    expect(mapOfRows(columns, rows)).toEqual(map);
  });

  it('has an interval where the measure has a sign, for every two of a handful', () => {
    const columns = ['age', 'lwt', 'race', 'smoke'].map((name) => measured(birthwt, name));
    const pairs = viewPairs(columns);
    expect(pairs.map((row) => row.length)).toEqual([0, 1, 2, 3]);
    const [ages] = pairs[1];
    const patients = birthwt.rowCount;
    expect(ages).toMatchObject({ measure: 'Spearman', patients });
    expect(ages!.interval).toEqual(correlationInterval(ages!.value, patients, true));
    const [byRace] = pairs[2];
    expect(byRace!.measure).toBe('correlation ratio');
    expect(byRace!.interval).toBeUndefined();
    const same: Measured = {
      name: 'same',
      kind: 'number',
      column: { type: 'number', values: new Float64Array(patients).fill(3) },
    };
    expect(viewPairs([columns[0], same])[1]).toEqual([null]);
  });

  it('leaves text out and says null where nothing varies', () => {
    const map = associationMap(
      [
        { name: 't', kind: 'text', column: { type: 'text', values: ['a', 'b', 'c'] } },
        { name: 'x', kind: 'number', column: { type: 'number', values: Float64Array.of(1, 2, 3) } },
        { name: 'k', kind: 'number', column: { type: 'number', values: Float64Array.of(7, 7, 7) } },
      ],
      false,
    );
    expect(map).toEqual({ names: ['x', 'k'], cells: [[], [null]], order: [0, 1] });
  });

  it('two numbers are shown with both correlations', () => {
    const [x, y] = [numbers(birthwt, 'lwt'), numbers(birthwt, 'bwt')];
    const view = viewTwoNumbers(x, y);
    expect(view.patients).toBe(189);
    expect(view.pearson.value).toBe(correlation(x, y));
    expect(view.spearman.value).toBe(ranks(x, y).value);
    expect(view.pearson.interval![0]).toBeLessThan(view.pearson.value);
  });
});

describe('variance inflation', () => {
  it('of Longley’s columns: published values, here from memory', () => {
    const longley = loadTable('longley');
    const names = ['GNPDEFL', 'GNP', 'UNEMP', 'ARMED', 'POP', 'YEAR'];
    const found = inflationFactors(names.map((name) => measured(longley, name, 'number')));
    const expected = [135.53244, 1788.51348, 33.61889, 3.58893, 399.15102, 758.9806];
    found.forEach(({ factor }, i) => expect(relative(factor, expected[i])).toBeLessThan(1e-6));
  });

  it('is infinite for a column the others tell exactly, and for those alone', () => {
    const [a, b, c] = [normals(50), normals(50), normals(50)];
    const column = (name: string, values: Float64Array): Measured => ({
      name,
      kind: 'number',
      column: { type: 'number', values },
    });
    const sum = a.map((value, i) => value + b[i]);
    const found = inflationFactors([
      column('a', a),
      column('b', b),
      column('sum', sum),
      column('c', c),
    ]);
    expect(found.map(({ factor }) => factor === Infinity)).toEqual([true, true, true, false]);
    expect(found[3].factor).toBeGreaterThan(1);
  });

  it('counts a category as its indicators and does not depend on which level comes first', () => {
    const iris = loadTable('iris');
    const [species] = iris.dictionary.filter(({ kind }) => kind === 'category');
    const names = iris.dictionary.map(({ name }) => name);
    const once = inflationFactors(names.map((name) => measured(iris, name)));
    const mine = measured(iris, species.name);
    if (mine.column.type !== 'coded') throw new Error('a category');
    const turned = {
      ...mine.column,
      levels: [...mine.column.levels].reverse(),
      codes: mine.column.codes.map((code) => 2 - code),
    };
    const again = inflationFactors(
      names.map((name) =>
        name === species.name ? { ...mine, column: turned } : measured(iris, name),
      ),
    );
    once.forEach(({ factor, inputs, name }, i) => {
      expect(inputs).toBe(name === species.name ? 2 : 1);
      expect(relative(again[i].factor, factor)).toBeLessThan(1e-8);
    });
  });
});
