import { describe, expect, it } from 'vitest';
import { curvesOf, type CurvesTask } from '../../src/comparing/index.ts';
import {
  calibrationGroups,
  nobodyCutoff,
  precisionRecall,
  rankRisks,
  thin,
} from '../../src/measures/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { loadValues } from '../reference/load.ts';
import { columnsOf } from '../reference/sets.ts';
import { birthWeightRisks } from './birth-weight-risks.ts';

describe('precision and recall', () => {
  it('have the average precision of general-purpose libraries', () => {
    const names = ['gravity', 'ph', 'osmo', 'cond', 'urea', 'calc', 'r'];
    const { columns } = columnsOf('urine', names);
    const events = Uint8Array.from(columns[6]);
    const { results } = loadValues<{ results: Record<string, { average_precision: number }> }>(
      'roc_urine',
    );
    let compared = 0;
    for (const [marker, { average_precision }] of Object.entries(results)) {
      // Low pH is a case there.
      const sign = marker === 'ph' ? -1 : 1;
      const scores = columns[names.indexOf(marker)].map((value) => sign * value);
      const found = precisionRecall(rankRisks(scores, events, Infinity))!;
      expect(found.average).toBeCloseTo(average_precision, 10);
      expect(found.points.at(-1)).toMatchObject({ sensitivity: 1, precision: 33 / 77 });
      compared++;
    }
    expect(compared).toBe(4);
  });

  it('are the same of patients who were predicted several times alike, and none without a case', () => {
    const risks = Float64Array.of(0.9, 0.6, 0.6, 0.2);
    const events = Uint8Array.of(1, 0, 1, 0);
    const once = precisionRecall(rankRisks(risks, events))!;
    // By hand: 1 of 1, then 2 of 3 with the tie taken at once, then 2 of 4.
    expect(once.points).toEqual([
      { cutoff: 0.9, sensitivity: 0.5, precision: 1 },
      { cutoff: 0.6, sensitivity: 1, precision: 2 / 3 },
      { cutoff: 0.2, sensitivity: 1, precision: 0.5 },
    ]);
    expect(once.average).toBeCloseTo(0.5 + 0.5 * (2 / 3), 12);
    const twice = precisionRecall(
      rankRisks([...risks, ...risks], [...events, ...events], nobodyCutoff, undefined, 2),
    )!;
    expect(twice).toEqual(once);
    expect(precisionRecall(rankRisks(risks, new Uint8Array(4)))).toBeUndefined();
  });
});

describe('calibration in groups', () => {
  it('has the groups of the test of Hosmer & Lemeshow', () => {
    // Logistic regression of low birth weight, groups of equal counts by rank.
    const { in_sample: reference } = loadValues<{
      in_sample: {
        hosmer_lemeshow: {
          equal_count_rank: {
            groups: { n: number; mean_p: number; observed: number; observed_rate: number }[];
          };
        };
      };
    }>('calibration_birthwt');
    const { risks, events } = birthWeightRisks();
    const groups = calibrationGroups(rankRisks(risks, events));
    const { groups: expected } = reference.hosmer_lemeshow.equal_count_rank;
    expect(groups.map(({ patients }) => patients)).toEqual(expected.map(({ n }) => n));
    groups.forEach(({ told, found, interval }, i) => {
      expect(told).toBeCloseTo(expected[i].mean_p, 6);
      expect(found).toBeCloseTo(expected[i].observed_rate, 10);
      expect(interval[0]).toBeLessThanOrEqual(found);
      expect(interval[1]).toBeGreaterThanOrEqual(found);
    });
  });

  it('has fewer groups where patients are few, and counts patients and not predictions', () => {
    const risks = Float64Array.from({ length: 35 }, (_, i) => i / 35);
    const events = Uint8Array.from(risks, (_, i) => i % 2);
    expect(calibrationGroups(rankRisks(risks, events)).map(({ patients }) => patients)).toEqual([
      12, 12, 11,
    ]);
    expect(calibrationGroups(rankRisks(risks.subarray(0, 4), events.subarray(0, 4)))).toHaveLength(
      1,
    );
    const twice = rankRisks(
      [...risks, ...risks],
      [...events, ...events],
      nobodyCutoff,
      undefined,
      2,
    );
    const groups = calibrationGroups(twice);
    expect(groups.reduce((sum, { patients }) => sum + patients, 0)).toBeCloseTo(35, 10);
    expect(groups).toHaveLength(3);
  });
});

describe('curves of one classifier', () => {
  const draw = randomStream(8, 'curves');
  const patients = 5000;
  const scores = Float64Array.from({ length: patients }, () => draw.uniform());
  const events = Uint8Array.from(scores, (risk) => Number(draw.uniform() < risk ** 2));
  const task: CurvesTask = {
    scores,
    events,
    times: 1,
    costs: { missedCost: 3, falseAlarmCost: 1 },
    nobody: nobodyCutoff,
    isShare: true,
    from: 0,
    to: 1,
  };

  it('have few points, from corner to corner, and the least cost of all cutoffs', () => {
    const { roc, precision, cost, leastCost, area, share, calibration, density } = curvesOf(task);
    for (const curve of [roc, precision, cost]) {
      expect(curve.length).toBeGreaterThan(50);
      expect(curve.length).toBeLessThan(1500);
    }
    expect([roc[0], roc.at(-1)]).toEqual([
      [0, 0],
      [1, 1],
    ]);
    // By hand, at every risk: those below it with the event are missed, those from it on without are called.
    const each = Array.from(scores.subarray(0, patients), (cutoff) => {
      let sum = 0;
      for (let i = 0; i < patients; i += 1)
        sum += scores[i] >= cutoff ? 1 - events[i] : 3 * events[i];
      return (1000 * sum) / patients;
    }).slice(0, 400);
    expect(leastCost!).toBeLessThanOrEqual(Math.min(...each));
    expect(Math.min(...cost.map(([, one]) => one))).toBeGreaterThanOrEqual(leastCost! - 1e-9);
    // The trapezoid under the thinned curve is the area, about.
    const under = roc
      .slice(1)
      .reduce((sum, [x, y], i) => sum + ((x - roc[i][0]) * (y + roc[i][1])) / 2, 0);
    expect(under).toBeCloseTo(area!.value, 2);
    expect(share).toBeCloseTo(events.reduce((sum, one) => sum + one, 0) / patients, 12);
    expect(calibration).toHaveLength(10);
    expect(density.grid).toHaveLength(201);
  });

  it('have no calibration of numbers, and no costs that are counted from level to level', () => {
    const numbers = curvesOf({ ...task, isShare: false, nobody: Infinity });
    expect(numbers.calibration).toBeUndefined();
    const levels = curvesOf({ ...task, costs: { ...task.costs, levelCosts: [[0]] } });
    expect([levels.cost, levels.leastCost]).toEqual([[], undefined]);
  });

  it('say what there is where nobody is a case', () => {
    const { precision, averagePrecision, area, share } = curvesOf({
      ...task,
      events: new Uint8Array(patients),
    });
    expect([precision, averagePrecision, area, share]).toEqual([[], undefined, undefined, 0]);
  });
});

describe('thinning', () => {
  it('keeps one point a dot, in their order, and the last', () => {
    const points = Array.from({ length: 10_000 }, (_, i) => i / 9999);
    const kept = thin(points, (one) => [one, one]);
    expect(kept.length).toBeLessThan(410);
    expect([kept[0], kept.at(-1)]).toEqual([0, 1]);
    expect(kept).toEqual(kept.toSorted((a, b) => a - b));
  });
});
