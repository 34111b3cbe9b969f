import { describe, expect, it } from 'vitest';
import {
  elsewhere,
  errorTable,
  liftAmong,
  netBenefit,
  rankRisks,
  ratesOf,
  ratiosWorth,
  rocBand,
  rocPoints,
} from '../../src/measures/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { loadValues } from '../reference/load.ts';

// Altman & Bland (1994), BMJ 308:1552 and 309:102.
const { results } = loadValues<{
  results: Record<string, { value: number; ci95: [number, number] }> & {
    mcc: number;
    predictive_values_at_prevalence: {
      prevalence: number;
      ppv: { value: number };
      npv: { value: number };
    }[];
  };
}>('confusion_liver');
const liver = { found: 231, missed: 27, falseAlarms: 32, rightlyLeft: 54 };
const costs = { missedCost: 8, falseAlarmCost: 1 };

describe('figures beyond chance of the liver scan', () => {
  const rates = ratesOf(liver);

  it('are those of exact fractions', () => {
    expect(rates.falsePositiveRate.value).toBeCloseTo(results.fpr.value, 12);
    expect(rates.falseNegativeRate.value).toBeCloseTo(results.fnr.value, 12);
    expect(rates.balancedAccuracy.value).toBeCloseTo(results.balanced_accuracy.value, 12);
    expect(rates.youden.value).toBeCloseTo(results.youden.value, 12);
    expect(rates.f1.value).toBeCloseTo(results.f1.value, 12);
    expect(rates.matthews.value).toBeCloseTo(results.mcc, 12);
    const { value, interval } = rates.diagnosticOddsRatio;
    expect(value).toBeCloseTo(results.diagnostic_odds_ratio.value, 10);
    interval!.forEach((bound, i) =>
      expect(bound).toBeCloseTo(results.diagnostic_odds_ratio.ci95[i], 8),
    );
  });

  it('have intervals that cover in 95 of 100 samples', () => {
    const draw = randomStream(2, 'coverage');
    const truth = ratesOf({ found: 24, missed: 6, falseAlarms: 14, rightlyLeft: 56 });
    const names = ['f1', 'matthews', 'youden', 'balancedAccuracy'] as const;
    const covered = names.map(() => 0);
    for (let round = 0; round < 1000; round++) {
      const counts = [0, 0, 0, 0];
      for (let i = 0; i < 300; i++) {
        const at = draw.uniform();
        counts[at < 0.24 ? 0 : at < 0.3 ? 1 : at < 0.44 ? 2 : 3]++;
      }
      const [found, missed, falseAlarms, rightlyLeft] = counts;
      const own = ratesOf({ found, missed, falseAlarms, rightlyLeft });
      names.forEach((name, k) => {
        const [lower, upper] = own[name].interval!;
        const value = truth[name].value!;
        covered[k] += Number(lower <= value && value <= upper);
      });
    }
    for (const count of covered) {
      expect(count).toBeGreaterThan(925);
      expect(count).toBeLessThan(975);
    }
  });

  it('are absent where nobody is on a side', () => {
    const one = ratesOf({ found: 3, missed: 0, falseAlarms: 0, rightlyLeft: 0 });
    expect(one.matthews).toEqual({});
    expect(one.youden).toEqual({});
    expect(one.diagnosticOddsRatio).toEqual({});
    expect(one.f1.value).toBe(1);
  });
});

describe('predictive values elsewhere', () => {
  it('are those by Bayes’ rule at the shares that were published', () => {
    for (const { prevalence, ppv, npv } of results.predictive_values_at_prevalence) {
      const found = elsewhere(liver, prevalence, costs)!;
      expect(found.positivePredictiveValue.value).toBeCloseTo(ppv.value, 12);
      expect(found.negativePredictiveValue.value).toBeCloseTo(npv.value, 12);
    }
  });

  it('have the logit intervals, by hand', () => {
    const { positivePredictiveValue: value } = elsewhere(liver, 0.25, costs)!;
    const error = Math.sqrt((1 - 231 / 258) / (258 * (231 / 258)) + 54 / 86 / (86 * (1 - 54 / 86)));
    const logit = Math.log(value.value! / (1 - value.value!));
    const back = (one: number) => 1 / (1 + Math.exp(-one));
    expect(value.interval![0]).toBeCloseTo(back(logit - 1.959964 * error), 7);
    expect(value.interval![1]).toBeCloseTo(back(logit + 1.959964 * error), 7);
    const { negativePredictiveValue: other } = elsewhere(liver, 0.25, costs)!;
    expect(other.interval![0]).toBeLessThan(other.value!);
    expect(other.interval![1]).toBeGreaterThan(other.value!);
  });

  it('count errors and costs of a thousand patients there', () => {
    const there = elsewhere(
      { found: 8, missed: 2, falseAlarms: 30, rightlyLeft: 60 },
      0.05,
      costs,
    )!;
    expect(there.found).toBeCloseTo(40, 10);
    expect(there.missed).toBeCloseTo(10, 10);
    expect(there.falseAlarms).toBeCloseTo(950 / 3, 10);
    expect(there.cost).toBeCloseTo(80 + 950 / 3, 10);
    expect(there.reference).toBeCloseTo(400, 10);
    expect(elsewhere({ found: 0, missed: 0, falseAlarms: 1, rightlyLeft: 1 }, 0.1, costs)).toBe(
      undefined,
    );
  });
});

describe('lift', () => {
  const ranked = rankRisks([0.9, 0.8, 0.5, 0.5, 0.5, 0.1], [1, 0, 1, 0, 0, 0]);

  it('counts cases among those most at risk, ties as is to be expected', () => {
    expect(liftAmong(ranked, 1)).toEqual({ patients: 1, cases: 1, share: 0.5, times: 3 });
    expect(liftAmong(ranked, 2).cases).toBe(1);
    expect(liftAmong(ranked, 3).cases).toBeCloseTo(1 + 1 / 3, 12);
    expect(liftAmong(ranked, 4).cases).toBeCloseTo(1 + 2 / 3, 12);
    expect(liftAmong(ranked, 6)).toEqual({ patients: 6, cases: 2, share: 1, times: 1 });
    expect(liftAmong(ranked, 60).patients).toBe(6);
    expect(liftAmong(rankRisks([0.2], [0]), 1)).toEqual({ patients: 1, cases: 0, share: 0 });
  });
});

describe('whether calls are worth it', () => {
  const draw = randomStream(8, 'worth');
  const risks = Float64Array.from({ length: 400 }, () => draw.uniform() ** 2);
  const events = Uint8Array.from(risks, (risk) => Number(draw.uniform() < risk));
  const ranked = rankRisks(risks, events);

  it('has the net benefit by hand', () => {
    const cutoff = 0.3;
    const found = risks.filter((risk, i) => risk >= cutoff && events[i] === 1).length;
    const alarms = risks.filter((risk, i) => risk >= cutoff && events[i] === 0).length;
    expect(netBenefit(ranked, cutoff).model).toBeCloseTo((found - (alarms * 3) / 7) / 400, 12);
  });

  it('is between the ratios at which nobody and everybody are as cheap', () => {
    const table = errorTable(ranked, 0.3);
    const { from, to } = ratiosWorth(table);
    const costAt = (ratio: number) => table.missed * ratio + table.falseAlarms;
    const cases = table.found + table.missed;
    expect(costAt(from!)).toBeCloseTo(cases * from!, 9);
    expect(costAt(to!)).toBeCloseTo(table.falseAlarms + table.rightlyLeft, 9);
    const middle = Math.sqrt(from! * to!);
    expect(costAt(middle)).toBeLessThan(Math.min(cases * middle, 400 - cases));
    expect(ratiosWorth({ found: 0, missed: 0, falseAlarms: 1, rightlyLeft: 1 })).toEqual({});
  });
});

describe('the band of a ROC curve', () => {
  it('lies around the curve, widens with fewer patients, and is the same again', () => {
    const draw = randomStream(4, 'band');
    const made = (count: number) => {
      const events = Uint8Array.from({ length: count }, (_, i) => Number(i % 4 === 0));
      const risks = Float64Array.from(events, (event) => event + draw.normal());
      return { events, risks, ranked: rankRisks(risks, events, Infinity) };
    };
    const [many, few] = [made(2000), made(80)];
    const band = rocBand(many.risks, many.events)!;
    expect(rocBand(many.risks, many.events)).toEqual(band);
    const points = rocPoints(many.ranked);
    for (const { falseAlarmShare, lower, upper } of band) {
      const { sensitivity } = points.findLast((one) => one.falseAlarmShare <= falseAlarmShare)!;
      expect(lower).toBeLessThanOrEqual(sensitivity + 0.01);
      expect(upper).toBeGreaterThanOrEqual(sensitivity - 0.01);
    }
    const widthAt = (of: typeof band) => {
      const { lower, upper } = of.find((one) => one.falseAlarmShare === 0.2)!;
      return upper - lower;
    };
    const wide = widthAt(rocBand(few.risks, few.events)!);
    expect(wide).toBeGreaterThan(2 * widthAt(band));
    // Near 0.6 of 500 cases a sensitivity has a standard error of about 0.022, and thresholds vary besides.
    expect(widthAt(band)).toBeGreaterThan(0.08);
    expect(widthAt(band)).toBeLessThan(0.14);
    expect(rocBand([0.2, 0.3, 0.4], [1, 0, 0])).toBeUndefined();
  });
});
