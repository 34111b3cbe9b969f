import { describe, expect, it } from 'vitest';
import {
  areaUnderCurve,
  calibrationOf,
  clustersOf,
  costFigure,
  errorTable,
  rankRisks,
  ratesOf,
  rocBand,
  type Interval,
} from '../../src/measures/index.ts';
import { logistic, randomStream } from '../../src/numeric/index.ts';
import { roundsOf, slack } from '../simulation.ts';

const costs = { missedCost: 8, falseAlarmCost: 1 };

/** Patients with several rows: risk and outcome of a row follow from what its patient has in common. */
function repeated(patients: number, rows: number, seed: number) {
  const draw = randomStream(seed, 'rows of patients');
  const size = patients * rows;
  const codes = Int32Array.from({ length: size }, (_, i) => Math.floor(i / rows));
  const scores = new Float64Array(size);
  const events = new Uint8Array(size);
  for (let patient = 0; patient < patients; patient++) {
    const own = 1.5 * draw.normal();
    const shift = 1.2 * draw.normal();
    for (let k = 0; k < rows; k++) {
      const row = patient * rows + k;
      const linear = own + 0.3 * draw.normal();
      scores[row] = logistic(linear - 0.5);
      events[row] = Number(draw.uniform() < logistic(1.3 * linear - 0.5 + shift));
    }
  }
  return { scores, events, codes };
}

const figuresOf = ({ scores, events, codes }: ReturnType<typeof repeated>, byCluster: boolean) => {
  const clusters = byCluster ? clustersOf(codes) : undefined;
  const ranked = rankRisks(scores, events, undefined, undefined, 1, clusters);
  const table = errorTable(ranked, 0.4);
  const rates = ratesOf(table);
  return {
    sensitivity: rates.sensitivity,
    specificity: rates.specificity,
    'positive predictive value': rates.positivePredictiveValue,
    'balanced accuracy': rates.balancedAccuracy,
    kappa: rates.kappa,
    'likelihood ratio': rates.positiveLikelihoodRatio,
    'odds ratio': rates.diagnosticOddsRatio,
    area: areaUnderCurve(scores, events, clusters)!,
    cost: costFigure(table, costs),
  };
};

describe('intervals where patients have several rows', () => {
  // The figures in a population so large that chance is nothing.
  const truth = figuresOf(repeated(40_000, 3, 1), false);
  const names = Object.keys(truth) as (keyof typeof truth)[];
  const rounds = roundsOf(600);
  const covered = (byCluster: boolean, patients: number) => {
    const inside = Object.fromEntries(names.map((name) => [name, 0])) as Record<string, number>;
    for (let round = 0; round < rounds; round++) {
      const found = figuresOf(repeated(patients, 3, 100 + round), byCluster);
      for (const name of names) {
        const [low, high] = found[name].interval as Interval;
        inside[name] += Number(low <= truth[name].value! && truth[name].value! <= high);
      }
    }
    return names.map((name) => [name, inside[name] / rounds] as const);
  };

  it('hold in 95 of 100 samples by cluster, and in far fewer by row', () => {
    const byCluster = new Map(covered(true, 120));
    for (const [name, share] of byCluster) {
      expect(share, name).toBeGreaterThan(0.95 - slack(0.95, rounds));
      expect(share, name).toBeLessThan(0.95 + slack(0.95, rounds));
    }
    const byRow = new Map(covered(false, 120));
    // The same cohorts: by row they hold less often, whatever chance did to both.
    for (const name of ['sensitivity', 'area'] as const)
      expect(byRow.get(name)).toBeLessThan(byCluster.get(name)! - 0.02);
  });

  it('of calibration hold too', () => {
    const slopeOf = (made: ReturnType<typeof repeated>, byCluster: boolean) => {
      const clusters = byCluster ? clustersOf(made.codes) : undefined;
      return calibrationOf(rankRisks(made.scores, made.events, undefined, undefined, 1, clusters));
    };
    const { scores, events } = repeated(20_000, 3, 1);
    const all = rankRisks(scores, events);
    const draw = repeated(3000, 3, 2);
    const known = slopeOf(draw, false).moved!;
    expect(all.patients).toBe(60_000);
    let [inside, plain] = [0, 0];
    const times = roundsOf(200);
    for (let round = 0; round < times; round++) {
      const made = repeated(100, 3, 5000 + round);
      const holds = ([low, high]: Interval) =>
        low <= known.large.value && known.large.value <= high;
      inside += Number(holds(slopeOf(made, true).moved!.large.interval));
      plain += Number(holds(slopeOf(made, false).moved!.large.interval));
    }
    expect(inside / times).toBeGreaterThan(0.95 - slack(0.95, times));
    expect(plain / times).toBeLessThan(0.9);
    expect(slopeOf(repeated(100, 3, 3), true).hosmerLemeshow).toBeUndefined();
  });
});

describe('clusters', () => {
  it('are none where no patient comes twice', () => {
    expect(clustersOf([4, 7, 9])).toBeUndefined();
    expect(clustersOf([4, 7, 4])).toEqual({ codes: Int32Array.of(0, 1, 0), count: 2 });
  });

  it('of rows that are copies give the intervals of the patients alone, nearly', () => {
    const { scores, events } = repeated(300, 1, 4);
    const three = <T>(values: ArrayLike<T>) =>
      Array.from(values).flatMap((value) => [value, value, value]);
    const alone = figuresOf({ scores, events, codes: new Int32Array(300) }, false);
    const copies = figuresOf(
      {
        scores: Float64Array.from(three(scores)),
        events: Uint8Array.from(three(events)),
        codes: Int32Array.from(three(Array.from({ length: 300 }, (_, i) => i))),
      },
      true,
    );
    for (const name of Object.keys(alone) as (keyof typeof alone)[]) {
      const [a, b] = [alone[name], copies[name]];
      expect(b.value).toBeCloseTo(a.value!, 9);
      const width = a.interval![1] - a.interval![0];
      expect(Math.abs(b.interval![0] - a.interval![0]), name).toBeLessThan(0.06 * width);
      expect(Math.abs(b.interval![1] - a.interval![1]), name).toBeLessThan(0.06 * width);
    }
  });

  it('keep a rate of 0 or 1 apart from certainty by the number of clusters', () => {
    const events = [1, 1, 1, 1, 1, 1, 0, 0];
    const scores = [0.9, 0.9, 0.9, 0.8, 0.8, 0.8, 0.1, 0.1];
    const clusters = clustersOf([0, 0, 0, 1, 1, 1, 2, 3]);
    const table = errorTable(rankRisks(scores, events, undefined, undefined, 1, clusters), 0.5);
    const { sensitivity } = ratesOf(table);
    expect(sensitivity.value).toBe(1);
    // Two patients, not six rows: Wilson's lower end for 2 of 2.
    expect(sensitivity.interval![0]).toBeCloseTo(2 / (2 + 1.959964 ** 2), 5);
  });

  it('are drawn whole for the band of a ROC curve, which becomes wider', () => {
    const { scores, events, codes } = repeated(80, 4, 6);
    const width = (band: ReturnType<typeof rocBand>) =>
      band!.reduce((sum, { lower, upper }) => sum + upper - lower, 0);
    expect(width(rocBand(scores, events, clustersOf(codes)))).toBeGreaterThan(
      1.2 * width(rocBand(scores, events)),
    );
  });
});

describe('the interval of an area', () => {
  it('holds in 95 of 100 samples near 0.9 with few cases', () => {
    const draw = randomStream(21, 'areas');
    // Two normal distributions 1.812 SD apart: the area is Φ(1.812 / √2) = 0.9.
    for (const [cases, others] of [
      [15, 100],
      [10, 60],
      [40, 400],
    ]) {
      let inside = 0;
      let given = 0;
      const rounds = roundsOf(1500);
      for (let round = 0; round < rounds; round++) {
        const scores = Float64Array.from(
          { length: cases + others },
          (_, i) => draw.normal() + (i < cases ? 1.8123876 : 0),
        );
        const events = scores.map((_, i) => Number(i < cases));
        const { interval } = areaUnderCurve(scores, events)!;
        if (!interval) continue;
        given++;
        inside += Number(interval[0] <= 0.9 && 0.9 <= interval[1]);
      }
      expect(Math.abs(inside / given - 0.95)).toBeLessThan(slack(0.95, given));
    }
  });
});

describe('the interval of a cost', () => {
  it('holds in 95 of 100 samples where few errors cost much', () => {
    const draw = randomStream(22, 'costs');
    for (const [missed, falseAlarm, missedCost] of [
      [0.03, 0.2, 8],
      [0.01, 0.1, 20],
      [0.1, 0.3, 2],
    ]) {
      const truth = 1000 * (missed * missedCost + falseAlarm);
      let inside = 0;
      const rounds = roundsOf(2000);
      for (let round = 0; round < rounds; round++) {
        const table = { found: 0, missed: 0, falseAlarms: 0, rightlyLeft: 0 };
        for (let i = 0; i < 150; i++) {
          const at = draw.uniform();
          if (at < missed) table.missed++;
          else if (at < missed + falseAlarm) table.falseAlarms++;
          else table.rightlyLeft++;
        }
        const [low, high] = costFigure(table, { missedCost, falseAlarmCost: 1 }).interval!;
        inside += Number(low <= truth && truth <= high);
      }
      expect(Math.abs(inside / rounds - 0.955)).toBeLessThan(slack(0.95, rounds));
    }
  });
});
