import { describe, expect, it } from 'vitest';
import { randomStream } from '../../src/numeric/index.ts';
import { numbersOf, takeOutcome, type Outcome } from '../../src/outcome/index.ts';
import type { PredictorColumn } from '../../src/preparation/index.ts';
import {
  growingTried,
  growthOf,
  shareOf,
  tryGrowing,
  type GrowingPoint,
  type JudgedBy,
  type TriedOnPart,
} from '../../src/search/index.ts';
import { fitPart, planParts } from '../../src/tuning/index.ts';

describe('numbers of patients', () => {
  it('go by equal ratios from few to all, with enough of the rarer outcome in the least', () => {
    const sizes = growingTried({ steps: 7 }, 1446, 187).map(({ patients }) => Number(patients));
    expect(sizes.at(-1)).toBe(1446);
    expect(sizes).toHaveLength(7);
    const ratios = sizes.slice(1).map((size, i) => size / sizes[i]);
    ratios.forEach((ratio) => expect(ratio).toBeCloseTo(ratios[0], 0));
    // 5 of 187 are the share that the least has.
    expect(sizes[0] * (187 / 1446)).toBeGreaterThan(4.8);
    expect(growingTried({ steps: 4 }, 100, 1000)[0]).toEqual({ patients: 40 });
  });

  it('are refused where they are too few for a curve', () => {
    expect(() => growingTried({ steps: 7 }, 60, 30)).toThrow('60 patients');
    expect(() => growingTried({ steps: 7 }, 5000, 8)).toThrow('8 of them with the rarer outcome');
  });
});

describe('fits on growing shares', () => {
  const draw = randomStream(6, 'growing patients');
  const patients = 200;
  const rows = Int32Array.from({ length: patients }, (_, i) => i);
  const predictors = ['urea', 'age'].map((name): PredictorColumn => ({
    name,
    type: 'number',
    values: Float64Array.from({ length: patients }, () => draw.normal()),
  }));
  const values = (predictors[0] as { values: Float64Array }).values;
  const outcome: Outcome = {
    kind: 'event',
    values: Int8Array.from(rows, (i) => Number(values[i] + draw.normal() > 0.8)),
  };
  const by: JudgedBy = { cases: { kind: 'event' }, costs: { missedCost: 2, falseAlarmCost: 1 } };
  const folds = Uint8Array.from(rows, (i) => i % 4);
  const [part] = planParts(rows, folds, new Int32Array(0));
  const task = { predictors, outcome, recipe: { family: 'logistic', seed: 3 }, settings: {} };

  it('are those of a fit on that share alone, for the same who are predicted', () => {
    const shares = [0.3, 0.6, 1];
    const found = tryGrowing(part, { ...task, shares }, by) as TriedOnPart[];
    const strata = Int32Array.from(part.learnRows, (row) => outcome.values[row]);
    shares.forEach((share, i) => {
      const learnRows = Int32Array.from(
        shareOf(strata, share, 3),
        (place) => part.learnRows[place],
      );
      const alone = fitPart({ ...part, learnRows }, predictors, outcome, {
        ...task.recipe,
        settings: {},
      });
      expect(numbersOf(found[i].predictions)).toEqual(numbersOf(alone.predictions));
      // Each has its share of cases.
      const cases = (of: Int32Array) =>
        (takeOutcome(outcome, of).values as Int8Array).reduce((sum, one) => sum + one, 0);
      expect(Math.abs(cases(learnRows) - share * cases(part.learnRows))).toBeLessThanOrEqual(1);
    });
    expect(numbersOf(found[0].predictions)).not.toEqual(numbersOf(found[2].predictions));
  });

  it('say in a sentence what cannot be fitted, and the others none the less', () => {
    const nobody: Outcome = { kind: 'event', values: new Int8Array(patients) };
    nobody.values[part.learnRows[0]] = 1;
    const found = tryGrowing(part, { ...task, outcome: nobody, shares: [0.2, 1] }, by);
    expect(found).toHaveLength(2);
  });
});

describe('what more patients would bring', () => {
  const sizes = [40, 75, 140, 260, 480, 900, 1700];
  const points = (of: (patients: number) => number, error: number): GrowingPoint[] =>
    sizes.map((patients) => ({ patients, value: of(patients), error }));

  it('is that of the curve it follows', () => {
    // 0.85 less what is lacking, which is halved at four times as many.
    const at = (patients: number) => 0.85 - 0.9 * patients ** -0.5;
    const { patients, now, gain, interval } = growthOf(points(at, 1e-6), 1)!;
    expect(patients).toBe(1700);
    expect(now).toBeCloseTo(at(1700), 6);
    expect(gain).toBeCloseTo(at(3400) - at(1700), 5);
    expect(interval[0]).toBeLessThanOrEqual(gain);
    expect(interval[1]).toBeGreaterThanOrEqual(gain);
  });

  it('falls for costs, and is nothing where more change nothing', () => {
    const cost = growthOf(
      points((patients) => 480 + 4000 / patients, 0.01),
      1,
    )!;
    expect(cost.gain).toBeCloseTo(4000 / 3400 - 4000 / 1700, 2);
    expect(cost.interval[1]).toBeLessThan(0);
    const flat = growthOf(
      points(() => 0.7, 0.01),
      1,
    )!;
    expect(flat.gain).toBeCloseTo(0, 9);
    expect(flat.interval[0]).toBeLessThan(0);
    expect(flat.interval[1]).toBeGreaterThan(0);
  });

  it('is not told from fewer points than a curve needs, or without standard errors', () => {
    expect(growthOf(points(() => 0.7, 0.01).slice(0, 3), 1)).toBeUndefined();
    expect(
      growthOf(
        points(() => 0.7, NaN),
        1,
      ),
    ).toBeUndefined();
  });

  it('has intervals that hold the truth about as often as they say', () => {
    const draw = randomStream(12, 'coverage');
    const at = (patients: number) => 0.85 - 0.9 * patients ** -0.5;
    const truth = at(3400) - at(1700);
    let held = 0;
    const times = 60;
    for (let i = 0; i < times; i++) {
      const noisy = points(at, 0.006).map((point) => ({
        ...point,
        value: point.value + point.error * draw.normal(),
      }));
      const { interval } = growthOf(noisy, i)!;
      if (interval[0] <= truth && truth <= interval[1]) held++;
    }
    expect(held / times).toBeGreaterThan(0.85);
  });
});
