import { describe, expect, it } from 'vitest';
import {
  areaUnderCurve,
  clustersOf,
  costFigure,
  cutoffInterval,
  groupDifference,
  groupsBy,
  promiseAndCheck,
  rankRisks,
  subgroupsOf,
  wilsonInterval,
} from '../../src/measures/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { roundsOf, slack } from '../simulation.ts';

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
    expect(groups.map(({ name }) => name)).toEqual(['north', 'south', 'west', 'missing']);
    expect(groups.flatMap(({ places }) => places).toSorted((a, b) => a - b)).toEqual(
      Array.from({ length: count }, (_, i) => i),
    );
  });

  it('are four bands of a number, whoever lacks it by themselves', () => {
    const groups = groupsBy({ type: 'number', values: age });
    expect(groups).toHaveLength(5);
    expect(groups.at(-1)!.name).toBe('missing');
    for (const { places } of groups.slice(0, 4)) expect(places.length).toBeGreaterThan(120);
    // Edges stand where their names say.
    const [low, high] = [groups[0], groups[3]];
    const edge = Number(low.name.replace('below ', ''));
    expect(Math.max(...low.places.map((place) => age[place]))).toBeLessThan(edge);
    const from = Number(high.name.replace(' or more', ''));
    expect(Math.min(...high.places.map((place) => age[place]))).toBeGreaterThanOrEqual(from);
  });

  it('have their edges written as dates where days are numbered', () => {
    const days = Float64Array.from({ length: 40 }, (_, i) => 17_910 + 10 * i);
    const day = (edge: number) => new Date(86_400_000 * Math.ceil(edge)).toISOString().slice(0, 10);
    expect(groupsBy({ type: 'number', values: days }, day).map(({ name }) => name)).toEqual([
      'below 2019-04-22',
      '2019-04-22 to below 2019-07-28',
      '2019-07-28 to below 2019-11-03',
      '2019-11-03 or more',
    ]);
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
      { name: 'missing', places: [0, 1] },
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
    expect(figures.cost).toEqual(costFigure(table, costs));
    expect(figures.cost.value).toBeCloseTo(
      (1000 * (5 * table.missed + table.falseAlarms)) / places.length,
      9,
    );
  });

  it('say nothing of a group without cases', () => {
    const [one] = subgroupsOf([{ name: 'few', places: [events.indexOf(0)] }], task);
    expect(one.figures.sensitivity.value).toBeUndefined();
    expect(one.figures.area).toEqual({});
    expect(groupDifference([{ places: [events.indexOf(0)] }], 'area', task)).toBeUndefined();
  });

  it('are tested by assigning patients to groups at random: exact where it can be counted', () => {
    // Of six cases three in each group; all of the first are called in, none of the second: 2 of 20
    // assignments differ as much.
    const small = {
      ...task,
      scores: [0.9, 0.9, 0.9, 0.1, 0.1, 0.1],
      events: [1, 1, 1, 1, 1, 1],
    };
    const both = [{ places: [0, 1, 2] }, { places: [3, 4, 5] }];
    expect(groupDifference(both, 'sensitivity', small)!.p).toBeCloseTo(0.1, 1);
    expect(groupDifference(both, 'specificity', small)).toBeUndefined();
  });

  it('are compared where a group shows no spread, also between two groups', () => {
    const stream = randomStream(5, 'no spread');
    const made = (patients: number, isPerfect: boolean) =>
      Array.from({ length: patients }, (_, i) => {
        const event = Number(i % 3 === 0);
        const score = isPerfect
          ? event * 0.5 + 0.4 * stream.uniform()
          : stream.uniform() ** (event ? 0.45 : 1.2);
        return { event, score };
      });
    const all = [...made(60, true), ...made(60, false), ...made(60, false)];
    const parts = {
      ...task,
      scores: all.map(({ score }) => score),
      events: all.map(({ event }) => event),
    };
    const placesOf = (from: number) => ({ places: Array.from({ length: 60 }, (_, i) => from + i) });
    const [perfect, first, second] = [0, 60, 120].map(placesOf);
    expect(groupDifference([perfect, first, second], 'area', parts)!.p).toBeLessThan(0.01);
    expect(groupDifference([perfect, first], 'area', parts)!.p).toBeLessThan(0.01);
    expect(groupDifference([first, second], 'area', parts)!.p).toBeGreaterThan(0.01);
  });

  it('find a difference one time in twenty where there is none', () => {
    const stream = randomStream(3, 'tests of groups');
    const measures = ['area', 'cost', 'sensitivity', 'brier'] as const;
    const found = { area: 0, cost: 0, sensitivity: 0, brier: 0 };
    const rounds = roundsOf(200);
    for (let round = 0; round < rounds; round++) {
      const own = Float64Array.from({ length: 200 }, () => stream.uniform());
      const happened = Uint8Array.from(own, (score) => Number(stream.uniform() < score));
      const four = [0, 1, 2, 3].map((k) => ({
        places: Array.from({ length: 50 }, (_, i) => 4 * i + k),
      }));
      for (const measure of measures)
        found[measure] += Number(
          groupDifference(
            four,
            measure,
            { ...task, scores: own, events: happened },
            { mostRounds: 400 },
          )!.p < 0.05,
        );
    }
    for (const measure of measures) {
      expect(Math.abs(found[measure] / rounds - 0.05), measure).toBeLessThan(slack(0.05, rounds));
    }
  });

  it('are tested by whole patients where these have several rows, and not at all where a patient is in several groups', () => {
    const stream = randomStream(6, 'rows in groups');
    let [byRow, byPatient] = [0, 0];
    const rounds = roundsOf(150);
    for (let round = 0; round < rounds; round++) {
      const codes = Array.from({ length: 240 }, (_, i) => Math.floor(i / 4));
      const own = Array.from({ length: 60 }, () => stream.normal());
      const events = codes.map((patient) => Number(own[patient] + 0.3 * stream.normal() > 0.5));
      const scores = codes.map(
        (patient) => 1 / (1 + Math.exp(-own[patient] + 0.5 * stream.normal())),
      );
      const groups = [0, 1].map((k) => ({
        places: codes.flatMap((patient, row) => (patient % 2 === k ? [row] : [])),
      }));
      const asked = { ...task, scores, events };
      byRow += Number(groupDifference(groups, 'accuracy', asked, { mostRounds: 400 })!.p < 0.05);
      byPatient += Number(
        groupDifference(
          groups,
          'accuracy',
          { ...asked, clusters: clustersOf(codes) },
          { mostRounds: 400 },
        )!.p < 0.05,
      );
      if (round > 0) continue;
      const mixed = [0, 1].map((k) => ({
        places: codes.flatMap((_, row) => (row % 2 === k ? [row] : [])),
      }));
      const byCluster = { ...asked, clusters: clustersOf(codes) };
      expect(groupDifference(mixed, 'accuracy', byCluster)).toBeUndefined();
    }
    expect(byPatient / rounds).toBeLessThan(0.05 + slack(0.05, rounds));
    expect(byRow / rounds).toBeGreaterThan(0.1);
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
      expect(interval![0]).toBeCloseTo(once[i].interval![0], i === 6 ? 0 : 2);
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
