import { describe, expect, it } from 'vitest';
import { randomStream, z95 } from '../../src/numeric/index.ts';
import { fitEvent } from '../families/fit-event.ts';
import {
  everyFew,
  holm,
  informationShare,
  outcomeOf,
  principalComponents,
  mapPatients,
  relateAll,
  shareDifference,
  type Measured,
  type Relation,
} from '../../src/survey/index.ts';
import type { Table } from '../../src/table/index.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';

const relative = (found: number, expected: number) => Math.abs(found / expected - 1);
const birthwt = loadTable('birthwt', (dictionary) => {
  dictionary.find(({ name }) => name === 'race')!.kind = 'category';
});
const measuredOf = (table: Table): Measured[] =>
  table.dictionary.map(({ name, kind }, i) => ({ name, kind, column: table.columns[i] }));
const columns = measuredOf(birthwt);
const named = (relations: Relation[], name: string) =>
  relations.find((relation) => relation.name === name)!;
const outcome = (name: string, event?: string) => {
  const { column, kind } = columns.find((one) => one.name === name)!;
  return outcomeOf(column, kind, event)!;
};

interface Groups {
  t_welch: { difference_ci95: [number, number] };
  mann_whitney: { auc_first_greater: number; p_normal_tie_corrected_continuity: number };
}
const reference = loadValues<{
  birthwt: {
    lwt_by_low: Groups;
    race_by_low: { p: number; cramers_v: number };
    smoke_by_low: { p: number; odds_ratio_sample: number };
    bwt_by_race: { eta_squared: number; kruskal_wallis: { p: number } };
  };
}>('survey_urine_birthwt').birthwt;

describe('relation to an event', () => {
  const predictors = columns.filter(({ name }) => name !== 'low' && name !== 'bwt');
  const relations = relateAll(predictors, outcome('low'));

  it('a number: AUC, difference of means, test, beside an independent library', () => {
    const weight = named(relations, 'lwt');
    const { mann_whitney, t_welch } = reference.lwt_by_low;
    expect(weight).toMatchObject({ measure: 'AUC', test: 'Mann–Whitney', patients: 189 });
    expect(relative(weight.strength.value, mann_whitney.auc_first_greater)).toBeLessThan(1e-9);
    expect(relative(weight.p, mann_whitney.p_normal_tie_corrected_continuity)).toBeLessThan(1e-9);
    weight.difference!.interval!.forEach((end, i) =>
      expect(relative(end, t_welch.difference_ci95[i])).toBeLessThan(1e-8),
    );
  });

  it('a number: odds ratio per SD is the one of the logistic fit on the raw number', () => {
    const values = numbers(birthwt, 'lwt');
    const inputs = { names: ['lwt'], columns: [values], rowCount: values.length };
    const fit = fitEvent('logistic', inputs, numbers(birthwt, 'low'));
    const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
    const sd = Math.sqrt(values.reduce((sum, x) => sum + (x - mean) ** 2, 0) / values.length);
    const { estimate, standardError } = fit.coefficients!.find(({ term }) => term === 'lwt')!;
    const { value, interval } = named(relations, 'lwt').oddsRatio!;
    expect(relative(value, Math.exp(estimate! * sd))).toBeLessThan(1e-8);
    [-1, 1].forEach((side, i) =>
      expect(
        relative(interval![i], Math.exp((estimate! + side * z95 * standardError!) * sd)),
      ).toBeLessThan(1e-7),
    );
  });

  it('two levels: odds ratio, difference of event shares, chi-square', () => {
    const smoke = named(relations, 'smoke');
    expect(relative(smoke.oddsRatio!.value, reference.smoke_by_low.odds_ratio_sample)).toBeLessThan(
      1e-9,
    );
    expect(relative(smoke.p, reference.smoke_by_low.p)).toBeLessThan(1e-9);
    expect(smoke.difference!.value).toBeCloseTo(30 / 74 - 29 / 115, 12);
    // Hosmer & Lemeshow (1989), table of the smoking odds ratio, 95% interval: 1.08 to 3.78, from memory.
    expect(smoke.oddsRatio!.interval![0]).toBeCloseTo(1.08, 2);
    expect(smoke.oddsRatio!.interval![1]).toBeCloseTo(3.78, 2);
  });

  it('a category: Cramér’s V and chi-square', () => {
    const race = named(relations, 'race');
    expect(race).toMatchObject({ measure: 'Cramér’s V', test: 'chi-square' });
    expect(relative(race.strength.value, reference.race_by_low.cramers_v)).toBeLessThan(1e-9);
    expect(relative(race.p, reference.race_by_low.p)).toBeLessThan(1e-9);
  });

  it('has no odds ratio where the outcomes are separated', () => {
    const weight = relateAll(columns, outcome('low')).find(({ name }) => name === 'bwt')!;
    expect(weight.strength.value).toBe(0);
    expect(weight.oddsRatio).toBeUndefined();
    expect(weight.difference!.value).toBeLessThan(0);
    expect(weight.information).toBeGreaterThan(0.7);
  });

  it('leaves out what does not vary, text, and takes gaps as gaps', () => {
    const events = { shape: 'event' as const, events: Int8Array.of(1, 0, 1, 0, -1) };
    const found = relateAll(
      [
        { name: 'same', kind: 'number', column: { type: 'number', values: new Float64Array(5) } },
        { name: 't', kind: 'text', column: { type: 'text', values: ['a', 'b', 'c', 'd', 'e'] } },
        {
          name: 'x',
          kind: 'number',
          column: { type: 'number', values: Float64Array.of(3, 1, 4, NaN, 9) },
        },
      ],
      events,
    );
    expect(found.map(({ name, patients }) => [name, patients])).toEqual([['x', 3]]);
  });
});

describe('relation to several levels and to a number', () => {
  it('race as outcome: correlation ratio and Kruskal–Wallis of birth weight', () => {
    const weight = named(relateAll(columns, outcome('race')), 'bwt');
    expect(weight).toMatchObject({ measure: 'correlation ratio', test: 'Kruskal–Wallis' });
    const eta = Math.sqrt(reference.bwt_by_race.eta_squared);
    expect(relative(weight.strength.value, eta)).toBeLessThan(1e-9);
    expect(relative(weight.p, reference.bwt_by_race.kruskal_wallis.p)).toBeLessThan(1e-9);
  });

  it('one level of several named as the event is set against the rest', () => {
    expect(outcome('race').shape).toBe('levels');
    const event = outcome('race', '2');
    expect(event).toMatchObject({ shape: 'event' });
    if (event.shape === 'event') expect(event.events.reduce((sum, one) => sum + one, 0)).toBe(26);
  });

  it('birth weight as outcome: rank correlation, mean difference, correlation ratio', () => {
    const relations = relateAll(columns, outcome('bwt'));
    const weight = named(relations, 'lwt');
    expect(weight.measure).toBe('Spearman');
    expect(weight.strength.interval![0]).toBeLessThan(weight.strength.value);
    const smoke = named(relations, 'smoke');
    // Means 2771.919 and 3055.696 (Hosmer & Lemeshow data, by hand): 283.777 g less.
    expect(smoke.difference!.value).toBeCloseTo(-283.777, 2);
    expect(named(relations, 'race').measure).toBe('correlation ratio');
  });

  it('text, dates and a single level are no outcome', () => {
    const coded = { type: 'coded' as const, codes: Int32Array.of(0, 0), levels: ['a'] };
    expect(outcomeOf(coded, 'category')).toBeUndefined();
    expect(outcomeOf({ type: 'text', values: ['a'] }, 'text')).toBeUndefined();
    expect(outcomeOf({ type: 'number', values: Float64Array.of(1) }, 'date')).toBeUndefined();
  });
});

describe('many looks', () => {
  it('Holm’s adjustment, by hand', () => {
    expect(holm([0.01, 0.04, NaN, 0.03, 0.005])).toEqual([0.03, 0.06, NaN, 0.06, 0.02]);
    expect(holm([0.6, 0.9])).toEqual([1, 1]);
  });

  it('no column of pure noise passes more often than one time in twenty', () => {
    const draw = randomStream(8, 'noise');
    let passed = 0;
    for (let study = 0; study < 100; study++) {
      const noise = Array.from({ length: 12 }, (_, j): Measured => ({
        name: `x${j}`,
        kind: 'number',
        column: { type: 'number', values: Float64Array.from({ length: 80 }, () => draw.normal()) },
      }));
      const events = Int8Array.from({ length: 80 }, () => Number(draw.uniform() < 0.4));
      const relations = relateAll(noise, { shape: 'event', events });
      if (relations.some(({ adjustedP }) => adjustedP < 0.05)) passed++;
    }
    expect(passed).toBeLessThanOrEqual(10);
  });
});

describe('information', () => {
  it('is all of it for a copy and next to none for chance', () => {
    expect(
      informationShare([
        [500, 0],
        [0, 500],
      ]),
    ).toBeGreaterThan(0.998);
    expect(
      informationShare([
        [250, 250],
        [250, 250],
      ]),
    ).toBe(0);
    expect(informationShare([[10], [20]])).toBeNaN();
  });

  it('by hand: 1 - H(1/4) for a channel that errs one time in four', () => {
    const wanted = 1 - (-(0.25 * Math.log2(0.25)) - 0.75 * Math.log2(0.75));
    const counts = [
      [3e6, 1e6],
      [1e6, 3e6],
    ];
    expect(informationShare(counts)).toBeCloseTo(wanted, 6);
  });
});

describe('difference of two shares', () => {
  // Newcombe (1998), Statistics in Medicine 17:873-890, table II, method 10: published intervals.
  it.each([
    [56, 70, 48, 80, 0.0524, 0.3339],
    [9, 10, 3, 10, 0.1705, 0.809],
    [6, 7, 2, 7, 0.0582, 0.8062],
    [5, 56, 0, 29, -0.0381, 0.1926],
    [0, 10, 0, 10, -0.2775, 0.2775],
    [10, 10, 0, 10, 0.6075, 1],
  ])('%i/%i − %i/%i', (a, m, b, n, low, high) => {
    const { interval } = shareDifference([a, m], [b, n])!;
    expect(interval[0]).toBeCloseTo(low, 4);
    expect(interval[1]).toBeCloseTo(high, 4);
  });
  it('is absent for an empty group', () => {
    expect(shareDifference([0, 0], [1, 2])).toBeUndefined();
  });
});

describe('principal components', () => {
  interface Wine {
    columns: string[];
    results: {
      eigenvalues: number[];
      loadings: { loadings: Record<string, number> }[];
      scores_first5: number[][];
    };
  }
  const wine = loadTable('wine');
  const expected = loadValues<Wine>('pca_wine');
  const inputs = measuredOf(wine)
    .filter(({ name }) => expected.columns.includes(name))
    .map((one) => ({ ...one, kind: 'number' as const }));

  it('of wine, beside an independent library: variances 1e-9, loadings and scores 1e-7', () => {
    const found = principalComponents(inputs, 5)!;
    expected.results.eigenvalues.forEach((value, i) =>
      expect(relative(found.variances[i], value)).toBeLessThan(1e-9),
    );
    expect(found.inputs.map(({ column }) => column)).toEqual(expected.columns);
    found.loadings.forEach((component, k) =>
      component.forEach((loading, j) =>
        expect(
          Math.abs(loading - expected.results.loadings[k].loadings[expected.columns[j]]),
        ).toBeLessThan(1e-7),
      ),
    );
    expected.results.scores_first5.forEach((scores, row) =>
      scores
        .slice(0, 5)
        .forEach((score, k) => expect(Math.abs(found.scores[k][row] - score)).toBeLessThan(1e-7)),
    );
  });

  it('scores have the variances and do not go together', () => {
    const { scores, variances } = principalComponents(inputs, 3)!;
    const dot = (a: Float64Array, b: Float64Array) =>
      a.reduce((sum, value, i) => sum + value * b[i], 0) / a.length;
    expect(dot(scores[0], scores[0])).toBeCloseTo(variances[0], 9);
    expect(Math.abs(dot(scores[0], scores[1]))).toBeLessThan(1e-10);
  });

  it('takes categories as indicators and gaps as the mean; needs two inputs', () => {
    const column = (name: string, ...values: number[]): Measured => ({
      name,
      kind: 'number',
      column: { type: 'number', values: Float64Array.from(values) },
    });
    const site: Measured = {
      name: 'site',
      kind: 'category',
      column: { type: 'coded', codes: Int32Array.of(0, 1, 2, -1), levels: ['a', 'b', 'c'] },
    };
    const found = principalComponents([column('x', 1, 2, NaN, 3), site])!;
    expect(found.inputs).toEqual([
      { column: 'x' },
      { column: 'site', level: 'b' },
      { column: 'site', level: 'c' },
    ]);
    expect(found.scores[0].every(Number.isFinite)).toBe(true);
    expect(principalComponents([column('x', 1, 2), column('same', 5, 5)])).toBeUndefined();
  });

  it('are thinned evenly, but not in step with the file', () => {
    expect(everyFew(3, 5)).toEqual([0, 1, 2]);
    const drawn = everyFew(80_000, 20_000);
    expect(drawn).toHaveLength(20_000);
    drawn.forEach((position, i) => {
      if (Math.floor(position / 4) !== i) throw new Error(`${position} is not of stretch ${i}.`);
    });
    // A hospital that fills in every fourth row has its quarter of the sample, within four SDs.
    const quarter = drawn.filter((position) => position % 4 === 0).length;
    expect(Math.abs(quarter - 5000)).toBeLessThan(4 * Math.sqrt(20_000 * 0.25 * 0.75));
    expect(everyFew(80_000, 20_000)).toEqual(drawn);
  });

  it('are mapped with the rows of the cohort', () => {
    const map = mapPatients(
      inputs,
      Array.from({ length: 178 }, (_, i) => 2 * i),
    )!;
    expect(map.rows.slice(0, 3)).toEqual([0, 2, 4]);
    expect(map.patients).toBe(178);
    expect(map.shares.reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 9);
    expect(map.shares[0]).toBeCloseTo(0.36199, 5);
  });
});
