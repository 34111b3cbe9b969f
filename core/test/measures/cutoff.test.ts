import { describe, expect, it } from 'vitest';
import {
  calibratedCutoff,
  chooseCutoff,
  costCurve,
  costPerThousand,
  crossValidated,
  errorSums,
  errorTable,
  judgeOutOfFold,
  rankRisks,
  referenceCost,
  riskDensity,
  rocPoints,
} from '../../src/measures/index.ts';
import { randomStream } from '../../src/numeric/index.ts';

/** Risks with many ties and an outcome that follows them. */
function cohort(seed: number, n = 200) {
  const draw = randomStream(seed, 'cutoff');
  const risks = Array.from({ length: n }, () => Math.round(draw.uniform() ** 2 * 50) / 50);
  const events = risks.map((risk) => Number(draw.uniform() < risk));
  return { risks, events, ranked: rankRisks(risks, events) };
}

const costs = { missedCost: 8, falseAlarmCost: 1 };
const called = (risks: number[], cutoff: number) => risks.filter((risk) => risk >= cutoff).length;

describe('error table', () => {
  it('calls in at risk >= cutoff, so patients with one risk stay together', () => {
    const ranked = rankRisks([0.1, 0.3, 0.3, 0.8], [0, 1, 0, 1]);
    expect(errorTable(ranked, 0.3)).toEqual({
      found: 2,
      missed: 0,
      falseAlarms: 1,
      rightlyLeft: 1,
    });
    expect(errorTable(ranked, 0.3000001)).toEqual({
      found: 1,
      missed: 1,
      falseAlarms: 0,
      rightlyLeft: 2,
    });
  });

  it('equals a count by hand at every cutoff', () => {
    const { risks, events, ranked } = cohort(3);
    for (let cutoff = 0; cutoff <= 1.01; cutoff += 0.01) {
      const table = errorTable(ranked, cutoff);
      expect(table.found + table.falseAlarms).toBe(called(risks, cutoff));
      expect(table.missed).toBe(risks.filter((r, i) => r < cutoff && events[i] === 1).length);
    }
  });
});

describe('choosing the cutoff', () => {
  it.each([1, 2, 3, 4, 5])('cheapest: no other cutoff costs less (draw %i)', (seed) => {
    const { ranked } = cohort(seed);
    const chosen = costPerThousand(
      ranked,
      chooseCutoff({ rule: 'cheapest' }, ranked, costs),
      costs,
    );
    expect(chosen).toBeCloseTo(Math.min(...costCurve(ranked, costs).map((point) => point.cost)), 9);
  });

  it.each([0.5, 0.8, 0.9, 1])('at least %f found: enough, and no stricter cutoff is', (share) => {
    const { risks, ranked } = cohort(6);
    const cutoff = chooseCutoff({ rule: 'find', share }, ranked, costs);
    const { found } = errorTable(ranked, cutoff);
    expect(found / ranked.events).toBeGreaterThanOrEqual(share);
    const stricter = Math.min(
      ...risks.filter((risk) => risk > Math.min(...risks.filter((r) => r >= cutoff))),
    );
    expect(errorTable(ranked, stricter).found / ranked.events).toBeLessThan(share);
  });

  it.each([10, 100, 333, 1000])(
    'at most %i per 1,000 called in, ties kept together',
    (perThousand) => {
      const { risks, ranked } = cohort(8);
      const cutoff = chooseCutoff({ rule: 'call', perThousand }, ranked, costs);
      expect(called(risks, cutoff)).toBeLessThanOrEqual((perThousand * risks.length) / 1000);
      const looser = Math.max(...risks.filter((risk) => risk < cutoff), -1);
      if (looser >= 0)
        expect(called(risks, looser)).toBeGreaterThan((perThousand * risks.length) / 1000);
    },
  );

  it('gives a number with few decimals', () => {
    const ranked = rankRisks([0.123456, 0.4567891, 0.8], [0, 1, 1]);
    expect(chooseCutoff({ rule: 'cheapest' }, ranked, costs)).toBe(0.45);
  });

  it('has the closed form of a calibrated model: cost of a false alarm over the sum', () => {
    expect(calibratedCutoff({ missedCost: 9, falseAlarmCost: 1 })).toBe(0.1);
  });
});

describe('costs', () => {
  it('are counted per 1,000 patients', () => {
    // 10 found, 5 missed, 20 false alarms, 165 rightly left.
    const risks = Array.from({ length: 200 }, (_, i) => (i < 30 ? 0.6 : 0.2));
    const events = risks.map((_, i) => Number(i < 10 || i >= 195));
    const ranked = rankRisks(risks, events);
    expect(errorSums(ranked, 0.5, costs)).toEqual({ missed: 40, falseAlarms: 20 });
    expect(costPerThousand(ranked, 0.5, costs)).toBe((1000 * (5 * 8 + 20)) / 200);
  });

  it.each([
    [10, 800],
    [50, 500],
  ])('of the reference: the cheaper of everybody and nobody, with %i of 100 events', (n, cost) => {
    const risks = new Float64Array(100);
    const ranked = rankRisks(
      risks,
      risks.map((_, i) => Number(i < n)),
    );
    expect(referenceCost(ranked, costs)).toBe(cost);
  });

  it('are nothing where there is nobody', () => {
    const nobody = rankRisks([], []);
    expect(costPerThousand(nobody, 0.5, costs)).toBe(0);
    expect(referenceCost(nobody, costs)).toBe(0);
  });
});

describe('costs of each patient', () => {
  /** Made-up costs; some cost nothing. */
  function ownCosts(seed: number, n = 200) {
    const draw = randomStream(seed, 'own costs');
    const some = (most: number) =>
      Float64Array.from({ length: n }, () => Math.max(0, Math.round(most * draw.uniform()) - 1));
    return { missed: some(20), falseAlarm: some(4) };
  }

  it.each([1, 2, 3])('are summed over whom the cutoff misses and calls in (draw %i)', (seed) => {
    const { risks, events } = cohort(seed);
    const own = ownCosts(seed);
    const ranked = rankRisks(risks, events, undefined, own);
    for (let cutoff = 0; cutoff <= 1.01; cutoff += 0.01) {
      const sum = (each: (i: number) => number) =>
        risks.reduce((total, _, i) => total + each(i), 0);
      const missed = sum((i) => (events[i] && risks[i] < cutoff ? own.missed[i] : 0));
      const falseAlarms = sum((i) => (!events[i] && risks[i] >= cutoff ? own.falseAlarm[i] : 0));
      expect(errorSums(ranked, cutoff, costs)).toEqual({ missed, falseAlarms });
      expect(costPerThousand(ranked, cutoff, costs)).toBeCloseTo(5 * (missed + falseAlarms), 9);
    }
    const cheapest = chooseCutoff({ rule: 'cheapest' }, ranked, costs);
    const least = Math.min(...costCurve(ranked, costs).map(({ cost }) => cost));
    expect(costPerThousand(ranked, cheapest, costs)).toBeCloseTo(least, 9);
    expect(referenceCost(ranked, costs)).toBeCloseTo(
      Math.min(costPerThousand(ranked, 2, costs), costPerThousand(ranked, -1, costs)),
      9,
    );
  });

  it('are those of all where every patient has the same', () => {
    const { risks, events, ranked } = cohort(4);
    const same = {
      missed: new Float64Array(200).fill(costs.missedCost),
      falseAlarm: new Float64Array(200).fill(costs.falseAlarmCost),
    };
    const own = rankRisks(risks, events, undefined, same);
    expect(costCurve(own, costs)).toEqual(costCurve(ranked, costs));
    const folds = risks.map((_, i) => i % 5);
    const judged = [costs, { ...costs, own: same }].map((one) =>
      crossValidated(Float64Array.from(risks), events, folds, { rule: 'cheapest' }, one),
    );
    expect(judged[1]).toEqual(judged[0]);
  });

  it('move the cutoff to where those who are dear to miss are found', () => {
    // Of two cases the one with the lower risk is dear to miss, and calling in is dear for nobody else.
    const [risks, events] = [
      [0.8, 0.6, 0.5, 0.3],
      [1, 0, 0, 1],
    ];
    const own = {
      missed: Float64Array.of(1, 0, 0, 30),
      falseAlarm: Float64Array.of(0, 1, 1, 0),
    };
    const few = { missedCost: 1, falseAlarmCost: 1 };
    const at = (given?: typeof own) =>
      chooseCutoff({ rule: 'cheapest' }, rankRisks(risks, events, undefined, given), few);
    expect(at()).toBeGreaterThan(0.6);
    expect(at(own)).toBe(0.3);
  });
});

describe('patients who are predicted several times', () => {
  it('count once: with the same risks each time all is as it was', () => {
    const { risks, events, ranked } = cohort(9);
    const often = rankRisks([...risks, ...risks], [...events, ...events], undefined, undefined, 2);
    expect(often).toMatchObject({ patients: 200, events: ranked.events, times: 2 });
    expect(costCurve(often, costs)).toEqual(costCurve(ranked, costs));
    expect(rocPoints(often)).toEqual(rocPoints(ranked));
    for (let cutoff = 0; cutoff < 1; cutoff += 0.05)
      expect(errorTable(often, cutoff)).toEqual(errorTable(ranked, cutoff));
    for (const rule of [
      { rule: 'cheapest' },
      { rule: 'find', share: 0.8 },
      { rule: 'call', perThousand: 200 },
    ] as const)
      expect(chooseCutoff(rule, often, costs)).toBe(chooseCutoff(rule, ranked, costs));
    const own = {
      missed: new Float64Array(400).fill(8),
      falseAlarm: new Float64Array(400).fill(1),
    };
    const dear = rankRisks([...risks, ...risks], [...events, ...events], undefined, own, 2);
    for (const { cutoff, cost } of costCurve(ranked, costs))
      expect(costPerThousand(dear, cutoff, costs)).toBeCloseTo(cost, 9);
  });

  it('have the mean of the error tables of the times', () => {
    const [a, b] = [cohort(10), cohort(11)];
    // The outcome of a patient is the same each time.
    const other = rankRisks(b.risks, a.events);
    const both = rankRisks(
      [...a.risks, ...b.risks],
      [...a.events, ...a.events],
      1.001,
      undefined,
      2,
    );
    for (const cutoff of [0.1, 0.35, 0.6]) {
      const [one, two] = [errorTable(a.ranked, cutoff), errorTable(other, cutoff)];
      const mean = errorTable(both, cutoff);
      for (const cell of ['found', 'missed', 'falseAlarms', 'rightlyLeft'] as const)
        expect(mean[cell]).toBeCloseTo((one[cell] + two[cell]) / 2, 9);
      expect(costPerThousand(both, cutoff, costs)).toBeCloseTo(
        (costPerThousand(a.ranked, cutoff, costs) + costPerThousand(other, cutoff, costs)) / 2,
        9,
      );
    }
  });

  it('have the mean of every figure, and an interval no narrower than of one time', () => {
    const levels = ['none', 'some', 'grave'];
    const draw = randomStream(5, 'levels');
    const values = Int32Array.from({ length: 120 }, () => Math.floor(3 * draw.uniform()));
    const sharesOf = () =>
      Float64Array.from({ length: 360 }, () => 0.05 + draw.uniform()).map((one, i, all) => {
        const from = 3 * Math.floor(i / 3);
        return one / (all[from] + all[from + 1] + all[from + 2]);
      });
    const times = [sharesOf(), sharesOf()];
    const judgeThese = (shares: Float64Array, n: number) =>
      judgeOutOfFold(
        {
          outcome: {
            kind: 'levels',
            levels,
            ordered: true,
            values: Int32Array.from([...Array(n).keys()].flatMap(() => [...values])),
          },
          predictions: { kind: 'levels', levels, shares },
        },
        { kind: 'levels', levels: ['grave'] },
        Array.from({ length: 120 * n }, (_, i) => 5 * Math.floor(i / 120) + (i % 5)),
        { rule: 'hand', cutoff: 0.4 },
        costs,
        n,
      );
    const [one, two] = times.map((shares) => judgeThese(shares, 1));
    const both = judgeThese(Float64Array.from([...times[0], ...times[1]]), 2);
    for (const id of Object.keys(one.figures!))
      expect(both.figures![id].value).toBeCloseTo(
        (one.figures![id].value! + two.figures![id].value!) / 2,
        9,
      );
    const width = ({ figures }: typeof one) => {
      const [low, high] = figures!['right level'].interval!;
      return high - low;
    };
    expect(width(both)).toBeGreaterThan(0.95 * Math.min(width(one), width(two)));
    expect(both.area!.mean).toBeCloseTo((one.area!.mean + two.area!.mean) / 2, 9);
    expect(both.costPerThousand).toBeCloseTo((one.costPerThousand + two.costPerThousand) / 2, 9);
  });
});

describe('cross-validated results', () => {
  it('averages the areas of the folds and counts errors over all patients', () => {
    const risks = Float64Array.of(0.9, 0.1, 0.2, 0.8);
    const result = crossValidated(
      risks,
      [1, 0, 1, 0],
      [0, 0, 1, 1],
      { rule: 'hand', cutoff: 0.5 },
      costs,
    );
    expect(result.area).toEqual({ mean: 0.5, least: 0, greatest: 1 });
    expect(result.table).toEqual({ found: 1, missed: 1, falseAlarms: 1, rightlyLeft: 1 });
    expect(result.costPerThousand).toBe((1000 * 9) / 4);
  });
});

describe('risk densities', () => {
  it('enclose the same area for both outcomes, with nothing lost at the ends', () => {
    const { risks, events } = cohort(9);
    const { event, none } = riskDensity(risks, events);
    const area = (density: number[]) =>
      density.reduce((sum, d) => sum + d, 0) / (density.length - 1);
    expect(area(event)).toBeCloseTo(1, 10);
    expect(area(none)).toBeCloseTo(1, 10);
  });

  it('of a rule of two values are two peaks, with nothing between them', () => {
    const risks = Float64Array.from({ length: 200 }, (_, i) => Number(i % 3 === 0));
    const events = Int8Array.from({ length: 200 }, (_, i) => Number(i % 4 === 0));
    const { grid, event, none } = riskDensity(risks, events);
    grid.forEach((at, i) => {
      if (at > 0.05 && at < 0.95) expect([event[i], none[i]]).toEqual([0, 0]);
    });
    for (const density of [event, none]) {
      expect(density[0]).toBeGreaterThan(1);
      expect(density.at(-1)).toBeGreaterThan(1);
    }
  });
});
