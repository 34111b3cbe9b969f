import { describe, expect, it } from 'vitest';
import {
  areaOfCounts,
  areaUnderCurve,
  errorTable,
  rankRisks,
  rocPoints,
} from '../../src/measures/index.ts';
import { gradesOf, randomStream } from '../../src/numeric/index.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';

interface Marker {
  auc: number;
  delong_se: number;
  delong_ci95: [number, number];
  points: { threshold: number | 'Infinity'; tp: number; fp: number; tn: number; fn: number }[];
}

// Turck et al. (2010), Intensive Care Med 36:107-115: outcome after subarachnoid haemorrhage.
const table = loadTable('aSAH', (dictionary) => {
  for (const entry of dictionary)
    if (entry.name === 'outcome' || entry.name === 'wfns')
      entry.kind = entry.name === 'wfns' ? 'number' : 'category';
});
const outcome = table.columns[table.dictionary.findIndex((entry) => entry.name === 'outcome')];
if (outcome.type !== 'coded') throw new Error('outcome should be a category');
const events = Array.from(outcome.codes, (code) => Number(outcome.levels[code] === 'Poor'));
const { results } = loadValues<{ results: Record<string, Marker> }>('roc_aSAH');

describe('an area of 0 or 1', () => {
  it.each([
    [[0.1, 0.2, 0.3, 0.7, 0.8, 0.9], 1],
    [[0.9, 0.8, 0.7, 0.3, 0.2, 0.1], 0],
  ])('of %j has no interval: these patients show no spread', (risks, value) => {
    const outcomes = [0, 0, 0, 1, 1, 1];
    expect(areaUnderCurve(risks, outcomes)).toEqual({ value, standardError: 0 });
  });
});

describe.each(['s100b', 'ndka', 'wfns'])('ROC of %s', (name) => {
  const marker = numbers(table, name);
  const expected = results[name];

  it('has the area and the interval of DeLong et al. (1988)', () => {
    const area = areaUnderCurve(marker, events)!;
    expect(area.value).toBeCloseTo(expected.auc, 10);
    expect(Math.abs(area.standardError / expected.delong_se - 1)).toBeLessThan(1e-8);
    // The reference interval is on the scale of the area; ours has the same reach on the logit scale.
    const [low, high] = expected.delong_ci95;
    const logit = (share: number) => Math.log(share / (1 - share));
    const reach = (expected.auc - low) / (expected.auc * (1 - expected.auc));
    if (high < 1) expect(high - expected.auc).toBeCloseTo(expected.auc - low, 9);
    // Student's quantile is a little longer than the normal one.
    const [lower, upper] = area.interval!.map(logit);
    expect(upper - logit(expected.auc)).toBeCloseTo(logit(expected.auc) - lower, 9);
    const longer = (upper - logit(expected.auc)) / reach;
    expect(longer).toBeGreaterThan(1);
    expect(longer).toBeLessThan(1.05);
  });

  it('has no interval with one patient on a side', () => {
    const one = events.indexOf(1);
    const few = [...events.keys()].filter((row) => events[row] === 0 || row === one);
    const area = areaUnderCurve(
      few.map((row) => marker[row]),
      few.map((row) => events[row]),
    )!;
    expect(area.value).toBeGreaterThanOrEqual(0);
    expect(area.interval).toBeUndefined();
  });

  it('has the same area when the values are only counted', () => {
    const { values, codes } = gradesOf(marker);
    const counts = [0, 1].map(() => new Float64Array(values.length));
    codes.forEach((code, row) => counts[events[row]][code]++);
    const area = areaOfCounts(counts[1], counts[0])!;
    expect(area.value).toBeCloseTo(expected.auc, 10);
    expect(Math.abs(area.standardError / expected.delong_se - 1)).toBeLessThan(1e-8);
    expect(areaOfCounts(counts[1], new Float64Array(values.length))).toBeUndefined();
  });

  it('has every point, one a distinct value', () => {
    const ranked = rankRisks(marker, events);
    const points = rocPoints(ranked);
    expect(points.length).toBe(expected.points.length);
    expected.points.forEach((point, i) => {
      const cutoff = point.threshold === 'Infinity' ? Infinity : point.threshold;
      expect(points[i].cutoff).toBe(cutoff);
      expect(errorTable(ranked, cutoff)).toEqual({
        found: point.tp,
        missed: point.fn,
        falseAlarms: point.fp,
        rightlyLeft: point.tn,
      });
    });
  });
});

describe('area under the curve', () => {
  it('is the share of pairs in the right order, ties half, whatever the data', () => {
    const draw = randomStream(7, 'pairs');
    for (let round = 0; round < 30; round++) {
      const n = 5 + Math.floor(draw.uniform() * 40);
      const risks = Array.from({ length: n }, () => Math.round(draw.uniform() * 8) / 8);
      const seen = Array.from({ length: n }, (_, i) =>
        Number(i < 2 || (i > 3 && draw.uniform() < 0.4)),
      );
      let right = 0;
      let pairs = 0;
      risks.forEach((a, i) =>
        risks.forEach((b, j) => {
          if (!seen[i] || seen[j]) return;
          pairs++;
          right += a > b ? 1 : a === b ? 0.5 : 0;
        }),
      );
      expect(areaUnderCurve(risks, seen)!.value).toBeCloseTo(right / pairs, 12);
    }
  });

  it('does not exist when one outcome has no patient', () => {
    expect(areaUnderCurve([0.2, 0.4], [1, 1])).toBeUndefined();
  });
});
