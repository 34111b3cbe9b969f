import { describe, expect, it } from 'vitest';
import { familyOf } from '../../src/families/index.ts';
import type { Judged } from '../../src/measures/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import {
  chooseTried,
  correctForChoice,
  raceShares,
  scoredOf,
  searchMeasures,
  shareOf,
  survivorsOf,
  type SearchMeasure,
} from '../../src/search/index.ts';
import { loadValues } from '../reference/load.ts';

const boosted = familyOf('boosted-trees').description.settings;
const tried = (trees: number, depth: number, value: number, error: number) => ({
  settings: { trees, depth },
  figure: { value, error },
});

describe('the choice among settings', () => {
  it('is the best, and the simplest within one standard error of it', () => {
    const all = [
      tried(100, 1, 0.7, 0.01),
      tried(300, 2, 0.742, 0.02),
      tried(100, 3, 0.75, 0.03),
      tried(300, 1, 0.72, 0.02),
      { settings: { trees: 50, depth: 1 } },
    ];
    // Within 0.03 of 0.75: all but 0.70. Of these 300 x depth 1 is as simple as 100 x depth 3 by places, and
    // better ones come first among equals.
    const choice = chooseTried(all, { better: 'higher' }, boosted)!;
    expect(choice.best).toBe(2);
    expect(choice.asGood).toEqual([1, 2, 3]);
    expect(choice.simplest).toBe(3);
  });

  it('turns round where less is better, and takes the simpler of equally good ones', () => {
    const costs = [tried(300, 2, 400, 0), tried(100, 2, 400, 0), tried(100, 1, 401, 0)];
    expect(chooseTried(costs, { better: 'lower' }, boosted)).toEqual({
      best: 1,
      simplest: 1,
      asGood: [0, 1],
    });
    expect(chooseTried([{ settings: {} }], { better: 'lower' }, boosted)).toBeUndefined();
  });
});

describe('a race', () => {
  it('runs on thirds of the patients until too few are left', () => {
    expect(raceShares(100, 100_000, 10_000)).toEqual([1 / 27, 1 / 9, 1 / 3, 1]);
    expect(raceShares(100, 100_000, 300)).toEqual([1 / 9, 1 / 3, 1]);
    expect(raceShares(6, 100_000, 10_000)).toEqual([1 / 3, 1]);
    expect(raceShares(100, 240, 60)).toEqual([1]);
  });

  it('lets the better third go on, in their order', () => {
    const all = [5, 1, 4, 2, 3, 9, 8].map((value) => tried(100, 1, value, 0));
    expect(survivorsOf(all, { better: 'lower' })).toEqual([1, 3, 4]);
    expect(survivorsOf(all, { better: 'higher' })).toEqual([0, 5, 6]);
    expect(survivorsOf([{ settings: {} }, all[0]], { better: 'higher' })).toEqual([1]);
  });

  it('takes as many of each stratum, each share within the next', () => {
    const strata = Array.from({ length: 900 }, (_, i) => (i % 10 === 0 ? 1 : 0));
    const [ninth, third, all] = [1 / 9, 1 / 3, 1].map((share) => shareOf(strata, share, 4));
    expect(all).toHaveLength(900);
    expect([...ninth].filter((i) => strata[i] === 1)).toHaveLength(10);
    expect([...third].filter((i) => strata[i] === 1)).toHaveLength(30);
    expect(ninth).toHaveLength(100);
    expect([...ninth].every((i) => third.includes(i))).toBe(true);
    expect(shareOf(strata, 1 / 9, 5)).not.toEqual(ninth);
  });
});

const by = {
  cases: { kind: 'event' as const },
  costs: { missedCost: 5, falseAlarmCost: 1 },
};
const judgedOf = (risks: ArrayLike<number>, events: ArrayLike<number>): Judged => ({
  outcome: { kind: 'event', values: Int8Array.from(events) },
  predictions: { kind: 'event', risks: Float64Array.from(risks) },
});
const measureOf = (id: string): SearchMeasure =>
  searchMeasures.event.find((measure) => measure.id === id)!;

describe('an estimate corrected for the choice', () => {
  it('is the published one: choose among those drawn, judge among those left out', () => {
    const { results } = loadValues<{
      results: {
        predictions: number[][];
        outcome: number[];
        naive_best_auc: number;
        resamples: { drawn_rows: number[] }[];
        used: number;
        corrected_auc: number;
        percentile_interval95_type7: [number, number];
      };
    }>('choice_corrected_birthwt');
    const { predictions, outcome, resamples } = results;
    const corrected = correctForChoice(
      predictions[0].map((_, setting) =>
        scoredOf(
          judgedOf(
            predictions.map((row) => row[setting]),
            outcome,
          ),
          by,
        ),
      ),
      measureOf('auc'),
      1,
      1,
      resamples.map(({ drawn_rows }) => drawn_rows.map((row) => row - 1)),
    )!;
    expect(corrected.value).toBeCloseTo(results.corrected_auc, 9);
    expect(corrected.uncorrected).toBeCloseTo(results.naive_best_auc, 9);
    expect(corrected.interval[0]).toBeCloseTo(results.percentile_interval95_type7[0], 9);
    expect(corrected.interval[1]).toBeCloseTo(results.percentile_interval95_type7[1], 9);
    expect(corrected.draws).toBe(results.used);
  });

  it('finds that the best of many that know nothing knows nothing', () => {
    const draw = randomStream(8, 'noise');
    const events = Array.from({ length: 150 }, () => Number(draw.uniform() < 0.4));
    const noise = Array.from({ length: 200 }, () =>
      scoredOf(
        judgedOf(
          Array.from(events, () => draw.uniform()),
          events,
        ),
        by,
      ),
    );
    const { value, uncorrected, interval } = correctForChoice(noise, measureOf('auc'), 1, 3)!;
    expect(uncorrected).toBeGreaterThan(0.6);
    expect(Math.abs(value - 0.5)).toBeLessThan(0.06);
    expect(interval[0]).toBeLessThan(0.5);
    expect(interval[1]).toBeGreaterThan(0.5);
  });

  it.each(searchMeasures.event.map(({ id }) => id))(
    'counts patients who were drawn twice as two: %s',
    (id) => {
      const draw = randomStream(2, 'some patients');
      const events = Array.from({ length: 40 }, () => Number(draw.uniform() < 0.5));
      // Ties too.
      const risks = events.map(
        (event) => Math.round(10 * (0.3 * event + 0.6 * draw.uniform())) / 10,
      );
      const drawn = events.map(() => Math.floor(40 * draw.uniform()));
      const left = events.map((_, i) => i).filter((i) => !drawn.includes(i));
      const pick = (rows: number[]) =>
        judgedOf(
          rows.map((i) => risks[i]),
          rows.map((i) => events[i]),
        );
      const measure = measureOf(id);
      const { value } = correctForChoice([scoredOf(judgedOf(risks, events), by)], measure, 1, 1, [
        drawn,
      ])!;
      // Their cutoff, as those drawn have it.
      const { cutoff } = scoredOf(pick(drawn), by);
      const expected = measure.of({ ...scoredOf(pick(left), by), cutoff });
      expect(value).toBeCloseTo(expected!, 10);
    },
  );

  it('is not given where there are too many predictions to draw a hundred times', () => {
    const many = scoredOf(judgedOf(new Float64Array(50_000).fill(0.2), new Int8Array(50_000)), by);
    const all = Array.from({ length: 130 }, () => many);
    expect(correctForChoice(all, measureOf('brier'), 1, 1)).toBeUndefined();
  });
});
