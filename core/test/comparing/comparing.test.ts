import { describe, expect, it } from 'vitest';
import {
  compare,
  correctedMean,
  holm,
  mcNemar,
  pairedAreas,
  redraw,
  type Compare,
} from '../../src/comparing/index.ts';
import { areaUnderCurve } from '../../src/measures/index.ts';
import { randomStream, z95 } from '../../src/numeric/index.ts';
import { loadValues } from '../reference/load.ts';

const { results } = loadValues<{
  results: {
    predictions: { all: number[]; three: number[] };
    outcome: number[];
    paired_delong: {
      auc: [number, number];
      covariance: [[number, number], [number, number]];
      difference: number;
      se: number;
      p: number;
      ci95: [number, number];
    };
    corrected_resampled_t: {
      differences: number[];
      n_train: number;
      n_test: number;
      mean: number;
      se_corrected: number;
      df: number;
      p: number;
      ci95: [number, number];
    }[];
    adjusted_p: { p: number[]; holm: number[] }[];
  };
}>('comparing_birthwt');

const close = (found: number, wanted: number) =>
  expect(Math.abs(found - wanted) / Math.max(1e-12, Math.abs(wanted))).toBeLessThan(1e-8);

describe('comparisons against reference values', () => {
  const { predictions, outcome, paired_delong } = results;

  it('two areas of the same patients (DeLong 1988), of two models of birth weight', () => {
    const found = pairedAreas(outcome, predictions.all, predictions.three)!;
    found.areas.forEach((area, k) => close(area, paired_delong.auc[k]));
    found.covariance.flat().forEach((one, k) => close(one, paired_delong.covariance.flat()[k]));
    close(found.difference, paired_delong.difference);
    close(found.standardError, paired_delong.se);
    close(found.p!, paired_delong.p);
    found.interval!.forEach((end, k) => close(end, paired_delong.ci95[k]));
    // Each by itself is what the area of one says.
    close(found.areas[0], areaUnderCurve(predictions.all, outcome)!.value);
    close(
      Math.sqrt(found.covariance[0][0]),
      areaUnderCurve(predictions.all, outcome)!.standardError,
    );
  });

  it('says nothing of chance where both rank the patients alike, and nothing of one patient', () => {
    const twice = predictions.all.map((risk) => 2 * risk);
    const found = pairedAreas(outcome, predictions.all, twice)!;
    expect([found.difference, found.standardError, found.p]).toEqual([0, 0, undefined]);
    const one = outcome.map((_, i) => Number(i === 4));
    expect(pairedAreas(one, predictions.all, predictions.three)).toBeUndefined();
  });

  it('differences of folds (Nadeau & Bengio 2003)', () => {
    for (const wanted of results.corrected_resampled_t) {
      const found = correctedMean(wanted.differences, wanted.n_test / wanted.n_train)!;
      close(found.mean, wanted.mean);
      close(found.standardError, wanted.se_corrected);
      expect(found.degrees).toBe(wanted.df);
      close(found.p, wanted.p);
      found.interval.forEach((end, k) => close(end, wanted.ci95[k]));
    }
    expect(correctedMean([0.1], 0.25)).toBeUndefined();
    expect(correctedMean([0.1, 0.1, 0.1], 0.25)).toBeUndefined();
  });

  it('p of several comparisons (Holm 1979)', () => {
    for (const { p, holm: wanted } of results.adjusted_p)
      holm(p).forEach((adjusted, k) => close(adjusted, wanted[k]));
    expect(holm([])).toEqual([]);
  });

  // Agresti (1990), Categorical Data Analysis, page 350, approval ratings: 150 and 86 of 1,600.
  it('calls in which only one is right (McNemar 1947)', () => {
    close(mcNemar(150, 86), 3.715936139571387e-5);
    close(mcNemar(86, 150), 3.715936139571387e-5);
    expect(mcNemar(9, 2)).toBeCloseTo(2 * (67 / 2048), 12);
    expect([mcNemar(0, 0), mcNemar(7, 7)]).toEqual([1, 1]);
    // Far more than any table holds, and still a number.
    expect(mcNemar(30_000, 31_000)).toBeGreaterThan(1e-6);
    expect(mcNemar(30_000, 31_000)).toBeLessThan(1e-3);
  });
});

describe('patients drawn anew', () => {
  const draw = randomStream(8, 'differences');
  const adds = Float64Array.from({ length: 800 }, () => 0.2 + draw.normal());
  const everybody = new Uint8Array(800).fill(1);

  it('spread as theory says of a mean', () => {
    const [found] = redraw(800, [{ adds, counted: everybody }], 1);
    const mean = adds.reduce((sum, one) => sum + one, 0) / 800;
    const error = Math.sqrt(adds.reduce((sum, one) => sum + (one - mean) ** 2, 0)) / 800;
    expect(found!.difference).toBeCloseTo(mean, 12);
    expect(Math.abs(found!.interval[0] - (mean - z95 * error)) / error).toBeLessThan(0.25);
    expect(Math.abs(found!.interval[1] - (mean + z95 * error)) / error).toBeLessThan(0.25);
    expect(found!.p).toBeLessThan(0.01);
    expect(redraw(800, [{ adds, counted: everybody }], 1)).toEqual([found]);
  });

  it('count only those who are asked about, and nobody where there is none', () => {
    const counted = everybody.map((_, i) => Number(i < 100));
    const [some, nobody] = redraw(
      800,
      [
        { adds, counted },
        { adds, counted: new Uint8Array(800) },
      ],
      1,
    );
    const own = adds.subarray(0, 100);
    expect(some!.difference).toBeCloseTo(own.reduce((sum, one) => sum + one, 0) / 100, 12);
    expect(nobody).toBeUndefined();
  });
});

describe('two candidates', () => {
  const events = Uint8Array.of(1, 1, 0, 0, 0, 1, 0, 0);
  const scores = Float64Array.of(0.9, 0.2, 0.8, 0.1, 0.3, 0.7, 0.2, 0.4);
  const others = Float64Array.of(0.6, 0.7, 0.1, 0.2, 0.1, 0.3, 0.2, 0.8);
  const task: Compare = {
    events,
    folds: Uint8Array.of(0, 1, 0, 1, 0, 1, 0, 1),
    times: 1,
    both: [
      { scores, cutoff: 0.5 },
      { scores: others, cutoff: 0.5 },
    ],
    costs: { missed: new Float64Array(8).fill(5), falseAlarm: new Float64Array(8).fill(1) },
    seed: 1,
  };
  const valuesOf = (one: Compare) =>
    Object.fromEntries(compare(one).measures.map(({ id, values }) => [id, values]));

  it('are each what a table by hand says', () => {
    const found = compare(task);
    expect([found.patients, found.cases]).toEqual([8, 3]);
    // The first finds patients 1 and 6 and calls 3 in for nothing; the second finds 1 and 2, and 8.
    const { cost, sensitivity, specificity, accuracy } = valuesOf(task);
    expect(cost).toEqual([750, 750]);
    expect(sensitivity[0]).toBeCloseTo(2 / 3, 12);
    expect(sensitivity[1]).toBeCloseTo(2 / 3, 12);
    expect(specificity).toEqual([0.8, 0.8]);
    expect(accuracy).toEqual([0.75, 0.75]);
    expect(found.onlyRight).toEqual([2, 2]);
    expect(found.measures.find(({ id }) => id === 'accuracy')!.p).toBe(1);
  });

  it('have costs of each patient’s own', () => {
    const missed = Float64Array.of(1, 10, 0, 0, 0, 100, 0, 0);
    const { cost } = valuesOf({ ...task, costs: { ...task.costs, missed } });
    expect(cost).toEqual([(1000 * (10 + 1)) / 8, (1000 * (100 + 1)) / 8]);
  });

  it('turned round differ the other way', () => {
    const turned = compare({ ...task, both: [task.both[1], { scores, cutoff: 0.15 }] });
    const straight = compare({ ...task, both: [{ scores, cutoff: 0.15 }, task.both[1]] });
    straight.measures.forEach(({ id, difference, interval, p, adjusted }, k) => {
      const other = turned.measures[k];
      expect(other.id).toBe(id);
      expect(other.difference).toBeCloseTo(-difference, 12);
      expect(other.interval![0]).toBeCloseTo(-interval![1], 6);
      expect(other.p).toBeCloseTo(p!, 6);
      expect(adjusted).toBeGreaterThanOrEqual(p!);
    });
  });

  it('of folds dealt twice count each patient once, and areas by their folds', () => {
    const twice = (one: Float64Array, other: Float64Array) => Float64Array.of(...one, ...other);
    const folds = Uint8Array.of(...task.folds, ...task.folds.map((fold) => 3 - fold));
    const found = compare({
      ...task,
      folds,
      times: 2,
      both: [
        { scores: twice(scores, others), cutoff: 0.5 },
        { scores: twice(others, others), cutoff: 0.5 },
      ],
    });
    const one = (id: string) => found.measures.find((own) => own.id === id)!;
    // Patient 6 is found by the first at one time of two, by the second never.
    expect(one('sensitivity').values[0]).toBeCloseTo((1 + 0.5 + 0.5) / 3, 12);
    expect(found.onlyRight).toBeUndefined();
    const area = (of: Float64Array, fold: number) => {
      const rows = [...events.keys()].filter((i) => task.folds[i] === fold);
      return areaUnderCurve(
        rows.map((i) => of[i]),
        rows.map((i) => events[i]),
      )!.value;
    };
    const own = [0, 1].map((fold) => area(scores, fold) + area(others, fold));
    expect(one('area').values[0]).toBeCloseTo((own[0] + own[1]) / 4, 12);
  });

  it('that are the same do not differ', () => {
    const same = compare({ ...task, both: [task.both[0], task.both[0]] });
    for (const { difference, p, interval, id } of same.measures) {
      expect(difference).toBe(0);
      if (id === 'area') expect([p, interval]).toEqual([undefined, undefined]);
      else expect([p, interval]).toEqual([1, [0, 0]]);
    }
  });
});
