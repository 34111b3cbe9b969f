import { describe, expect, it } from 'vitest';
import {
  areaUnderCurve,
  cutoffInterval,
  differenceTest,
  groupsBy,
  promiseAndCheck,
  rankRisks,
  subgroupsOf,
  wilsonInterval,
} from '../../src/measures/index.ts';
import { randomStream } from '../../src/numeric/index.ts';

const draw = randomStream(14, 'subgroups');
const count = 600;
const wards = Int32Array.from({ length: count }, (_, i) => (i % 50 === 0 ? -1 : i % 3));
const scores = Float64Array.from({ length: count }, () => draw.uniform());
const events = Uint8Array.from(scores, (score) => Number(draw.uniform() < score ** 2));
const age = Float64Array.from({ length: count }, (_, i) => (i % 40 === 0 ? NaN : 20 + (i % 60)));
const costs = { missedCost: 5, falseAlarmCost: 1 };
const task = { scores, events, cutoff: 0.4, costs };
const ward = { type: 'coded', codes: wards, levels: ['north', 'south', 'west', 'nobody'] } as const;

describe('groups of patients', () => {
  it('are the levels that somebody has, and those who lack it', () => {
    const groups = groupsBy({ ...ward, levels: [...ward.levels] });
    expect(groups.map(({ name }) => name)).toEqual(['north', 'south', 'west', 'not known']);
    expect(groups.flatMap(({ places }) => places).toSorted((a, b) => a - b)).toEqual(
      Array.from({ length: count }, (_, i) => i),
    );
  });

  it('are four bands of a number, whoever lacks it by themselves', () => {
    const groups = groupsBy({ type: 'number', values: age });
    expect(groups).toHaveLength(5);
    expect(groups.at(-1)!.name).toBe('not known');
    for (const { places } of groups.slice(0, 4)) expect(places.length).toBeGreaterThan(120);
    // Edges stand where their names say.
    const [low, high] = [groups[0], groups[3]];
    const edge = Number(low.name.replace('below ', ''));
    expect(Math.max(...low.places.map((place) => age[place]))).toBeLessThan(edge);
    const from = Number(high.name.replace(' or more', ''));
    expect(Math.min(...high.places.map((place) => age[place]))).toBeGreaterThanOrEqual(from);
  });

  it('are fewer where a number has few values, and one where it has one', () => {
    const twos = groupsBy({ type: 'number', values: Float64Array.of(0, 0, 0, 0, 0, 1, 1, 2) });
    expect(twos.map(({ places }) => places.length)).toEqual([5, 3]);
    expect(twos.map(({ name }) => name)).toEqual(['below 1', '1 or more']);
    const near = Float64Array.of(1000.01, 1000.02, 1000.03, 1000.04, 1000.05);
    expect(groupsBy({ type: 'number', values: near }).map(({ name }) => name)).toEqual([
      'below 1000.02',
      '1000.02 to below 1000.03',
      '1000.03 to below 1000.04',
      '1000.04 or more',
    ]);
    expect(groupsBy({ type: 'number', values: Float64Array.of(3, 3) })).toHaveLength(1);
    expect(groupsBy({ type: 'number', values: Float64Array.of(NaN, NaN) })).toEqual([
      { name: 'not known', places: [0, 1] },
    ]);
  });
});

describe('measures by groups', () => {
  const groups = groupsBy({ ...ward, levels: [...ward.levels] });
  const found = subgroupsOf(groups, task);

  it('add up to those of all', () => {
    const sum = (of: (one: (typeof found)[number]) => number) =>
      found.reduce((total, one) => total + of(one), 0);
    expect(sum(({ patients }) => patients)).toBe(count);
    expect(sum(({ cases }) => cases)).toBe(events.reduce((total, event) => total + event, 0));
    const missed = scores.filter((score, i) => score < 0.4 && events[i] === 1).length;
    expect(sum(({ table }) => table.missed)).toBe(missed);
  });

  it('are those of the patients of the group alone', () => {
    const { places } = groups[1];
    const own = places.map((place) => scores[place]);
    const happened = places.map((place) => events[place]);
    const { figures, table } = found[1];
    expect(figures.area).toEqual(areaUnderCurve(own, happened));
    expect(figures.sensitivity.interval).toEqual(
      wilsonInterval(table.found, table.found + table.missed),
    );
    const spent: number[] = places.map((_, i) =>
      happened[i] ? (own[i] < 0.4 ? 5000 : 0) : own[i] >= 0.4 ? 1000 : 0,
    );
    const mean = spent.reduce((sum, one) => sum + one, 0) / spent.length;
    const variance = spent.reduce((sum, one) => sum + (one - mean) ** 2, 0) / (spent.length - 1);
    expect(figures.cost.value).toBeCloseTo(mean, 9);
    expect(figures.cost.interval![1] - mean).toBeCloseTo(
      1.959964 * Math.sqrt(variance / spent.length),
      3,
    );
  });

  it('say nothing of a group without cases', () => {
    const [one] = subgroupsOf([{ name: 'few', places: [events.indexOf(0)] }], task);
    expect(one.figures.sensitivity.value).toBeUndefined();
    expect(one.figures.area).toEqual({});
    expect(differenceTest([one], 'area')).toBeUndefined();
  });

  it('are tested by Pearson’s chi-square, by hand', () => {
    const table = { found: 30, missed: 10, falseAlarms: 0, rightlyLeft: 0 };
    const other = { found: 10, missed: 30, falseAlarms: 0, rightlyLeft: 0 };
    const both = [table, other].map((one, i) => ({ ...found[i], table: one }));
    // 40 of 80: each group is 10 off 20, and 4 × 100 / 20 = 20.
    expect(differenceTest(both, 'sensitivity')).toMatchObject({ chiSquare: 20, degrees: 1 });
    expect(differenceTest(both, 'specificity')).toBeUndefined();
  });

  it('find a difference one time in twenty where there is none', () => {
    const stream = randomStream(3, 'tests of groups');
    let [area, cost, share] = [0, 0, 0];
    const rounds = 400;
    for (let round = 0; round < rounds; round++) {
      const own = Float64Array.from({ length: 400 }, () => stream.uniform());
      const happened = Uint8Array.from(own, (score) => Number(stream.uniform() < score));
      const sides = Int32Array.from({ length: 400 }, (_, i) => i % 4);
      const levels = ['a', 'b', 'c', 'd'];
      const four = subgroupsOf(groupsBy({ type: 'coded', codes: sides, levels }), {
        ...task,
        scores: own,
        events: happened,
      });
      area += Number(differenceTest(four, 'area')!.p < 0.05);
      cost += Number(differenceTest(four, 'cost')!.p < 0.05);
      share += Number(differenceTest(four, 'sensitivity')!.p < 0.05);
    }
    for (const found of [area, cost, share]) {
      expect(found / rounds).toBeGreaterThan(0.02);
      expect(found / rounds).toBeLessThan(0.1);
    }
  });
});

describe('promise and check', () => {
  const toldOf = (from: number, to: number) => {
    const [own, happened] = [scores.slice(from, to), events.slice(from, to)];
    return { scores: own, events: happened, ranked: rankRisks(own, happened) };
  };
  const [first, second] = [toldOf(0, 400), toldOf(400, 600)];

  it('sets figures of two samples beside each other, intervals squared and added', () => {
    const rows = promiseAndCheck(first, second, 0.4, costs, true);
    expect(rows.map(({ measure }) => measure)).toEqual([
      'sensitivity',
      'specificity',
      'positivePredictiveValue',
      'negativePredictiveValue',
      'accuracy',
      'area',
      'cost',
      'brier',
      'told',
    ]);
    for (const { promised, checked, difference, interval } of rows) {
      expect(difference).toBeCloseTo(checked - promised, 12);
      expect(interval![0]).toBeLessThan(difference);
      expect(interval![1]).toBeGreaterThan(difference);
    }
    const { promised, checked, difference, interval } = rows[0];
    const cases = [first, second].map(({ ranked }) => ranked.events);
    const [a, b] = [promised, checked].map((share, i) =>
      wilsonInterval(Math.round(share * cases[i]), cases[i])!,
    );
    expect(interval![0]).toBeCloseTo(difference - Math.hypot(checked - b[0], a[1] - promised), 9);
    expect(rows.at(-1)!.promised).toBeCloseTo(
      first.scores.reduce((sum, score, i) => sum + score - first.events[i], 0) / 400,
      12,
    );
  });

  it('leaves out what is not known, and takes patients told several times for one each', () => {
    const rows = promiseAndCheck(first, second, 0.4, undefined, false);
    expect(rows.map(({ measure }) => measure)).not.toContain('cost');
    expect(rows.map(({ measure }) => measure)).not.toContain('brier');
    const [twice, marks] = [
      [...first.scores, ...first.scores],
      [...first.events, ...first.events],
    ];
    const both = {
      scores: Float64Array.from(twice),
      events: Uint8Array.from(marks),
      ranked: rankRisks(twice, marks, undefined, undefined, 2),
    };
    const once = promiseAndCheck(first, second, 0.4, costs, true);
    promiseAndCheck(both, second, 0.4, costs, true).forEach(({ difference, interval }, i) => {
      expect(difference).toBeCloseTo(once[i].difference, 9);
      // Divisors n - 1 differ a little.
      expect(interval![0]).toBeCloseTo(once[i].interval![0], i === 6 ? 0 : 3);
    });
  });

  it('says how steady a cutoff is: wider with fewer patients, absent where it was put by hand', () => {
    const wide = cutoffInterval({ rule: 'find', share: 0.8 }, second.ranked, costs)!;
    const large = toldOf(0, 600);
    const narrow = cutoffInterval({ rule: 'find', share: 0.8 }, large.ranked, costs)!;
    expect(wide[1] - wide[0]).toBeGreaterThan(narrow[1] - narrow[0]);
    // Four of five cases have a score above it; about 0.5 here.
    expect(narrow[0]).toBeLessThan(0.6);
    expect(narrow[1]).toBeGreaterThan(0.4);
    expect(cutoffInterval({ rule: 'find', share: 0.8 }, large.ranked, costs)).toEqual(narrow);
    expect(cutoffInterval({ rule: 'hand', cutoff: 0.3 }, large.ranked, costs)).toBeUndefined();
    const called = cutoffInterval({ rule: 'call', perThousand: 200 }, large.ranked, costs)!;
    expect(called[0]).toBeLessThan(0.82);
    expect(called[1]).toBeGreaterThan(0.78);
  });
});
