import { describe, expect, it } from 'vitest';
import {
  calibrationGroups,
  calibrationOf,
  localCurve,
  netBenefit,
  rankRisks,
  recalibration,
} from '../../src/measures/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { hosmerLemeshow } from '../../src/measures/calibration/calibration.ts';
import { joinedGroups } from '../../src/measures/calibration/groups.ts';
import { loadValues } from '../reference/load.ts';
import { birthWeightRisks } from './birth-weight-risks.ts';

interface Sample {
  mean_predicted: number;
  observed_rate: number;
  brier: number;
  scaled_brier: number;
  log_loss: number;
  discrimination_slope: number;
  calibration_in_the_large: { intercept: number; se: number };
  calibration_slope_model: {
    intercept: number;
    slope: number;
    se_intercept: number;
    se_slope: number;
  };
  hosmer_lemeshow: { equal_count_rank: { chi2: number } };
  net_benefit: { threshold: number; net_benefit: number; treat_all: number }[];
  ici_loess: { ici: number; e50: number; e90: number; emax: number; smooth_first5: number[] };
}

const reference = loadValues<{ in_sample: Sample; split_sample: Sample }>('calibration_birthwt');

describe.each([
  ['in the patients learned from', false, reference.in_sample],
  ['in the other half', true, reference.split_sample],
] as const)('calibration of low birth weight, %s', (_, half, expected) => {
  const { risks, events } = birthWeightRisks(half);
  const ranked = rankRisks(risks, events);
  const found = calibrationOf(ranked);

  it('has the overall figures of general-purpose libraries', () => {
    expect(found.told).toBeCloseTo(expected.mean_predicted, 8);
    expect(found.share).toBeCloseTo(expected.observed_rate, 12);
    expect(found.brier).toBeCloseTo(expected.brier, 7);
    expect(found.scaledBrier).toBeCloseTo(expected.scaled_brier, 7);
    expect(found.logLoss).toBeCloseTo(expected.log_loss, 7);
    expect(found.toldCases! - found.toldOthers!).toBeCloseTo(expected.discrimination_slope, 7);
    expect(found.certain).toBe(0);
  });

  it('has the intercept and the slope with their standard errors', () => {
    const { large, constant, slope } = found.moved!;
    expect(large.value).toBeCloseTo(expected.calibration_in_the_large.intercept, 6);
    expect(large.standardError).toBeCloseTo(expected.calibration_in_the_large.se, 6);
    expect(constant.value).toBeCloseTo(expected.calibration_slope_model.intercept, 6);
    expect(constant.standardError).toBeCloseTo(expected.calibration_slope_model.se_intercept, 6);
    expect(slope.value).toBeCloseTo(expected.calibration_slope_model.slope, 6);
    expect(slope.standardError).toBeCloseTo(expected.calibration_slope_model.se_slope, 6);
    expect(slope.interval[1] - slope.value).toBeCloseTo(1.959964 * slope.standardError, 6);
  });

  it('has the test of Hosmer & Lemeshow, of groups of equal counts', () => {
    // The other half has 94 patients, so nine groups of ten and more instead of ten.
    if (found.groups.length === 10)
      expect(hosmerLemeshow(found.groups).hosmerLemeshow!.chiSquare).toBeCloseTo(
        expected.hosmer_lemeshow.equal_count_rank.chi2,
        5,
      );
    // The lowest groups have too few expected cases, and are joined.
    const { degrees } = found.hosmerLemeshow!;
    expect(degrees).toBeLessThan(found.groups.length);
    expect(degrees).toBeGreaterThanOrEqual(5);
  });

  it('has the distances of the smooth curve', () => {
    const { mean, median, ninety, greatest } = found.distance!;
    expect(mean).toBeCloseTo(expected.ici_loess.ici, 6);
    expect(median).toBeCloseTo(expected.ici_loess.e50, 6);
    expect(ninety).toBeCloseTo(expected.ici_loess.e90, 6);
    expect(greatest).toBeCloseTo(expected.ici_loess.emax, 6);
    const order = Int32Array.from(risks.keys()).sort((a, b) => risks[a] - risks[b]);
    const sorted = Float64Array.from(order, (i) => risks[i]);
    const curve = localCurve(
      sorted,
      Float64Array.from(order, (i) => events[i]),
      sorted,
    );
    expected.ici_loess.smooth_first5.forEach((value, i) =>
      expect(curve[order.indexOf(i)]).toBeCloseTo(value, 6),
    );
  });

  it('is worth what the decision curve says', () => {
    for (const { threshold, net_benefit, treat_all } of expected.net_benefit) {
      const { model, everybody } = netBenefit(ranked, threshold);
      expect(model).toBeCloseTo(net_benefit, 10);
      expect(everybody).toBeCloseTo(treat_all, 10);
    }
  });
});

describe('calibration', () => {
  const draw = randomStream(5, 'calibration');
  const count = 3000;
  const risks = Float64Array.from({ length: count }, () => 0.02 + 0.6 * draw.uniform());
  const events = Uint8Array.from(risks, (risk) => Number(draw.uniform() < risk));

  it('finds a slope where a full step would lead past it', () => {
    const [low, high] = [1 / 18, 17 / 18];
    const { large, constant, slope } = recalibration(
      [low, low, low, 0.5, 0.5, high, high, high],
      [0, 0, 1, 0, 1, 1, 1, 0],
    )!;
    expect(large.value).toBeCloseTo(0, 9);
    expect(constant.value).toBeCloseTo(0, 9);
    // Those told least are cases in one of three, those told most in two.
    expect(slope.value).toBeCloseTo(Math.log(2) / Math.log(17), 9);
  });

  it('finds what was done to the log-odds of risks', () => {
    const moved = risks.map((risk) => {
      const odds = 0.7 + 2 * Math.log(risk / (1 - risk));
      return 1 / (1 + Math.exp(-odds));
    });
    const own = recalibration(risks, events)!;
    const other = recalibration(moved, events)!;
    // The risks are true, so that the slope is 1 but for chance.
    expect(Math.abs(own.slope.value - 1)).toBeLessThan(3 * own.slope.standardError);
    // The same model of the outcome, whichever log-odds it is told.
    expect(other.slope.value).toBeCloseTo(own.slope.value / 2, 8);
    expect(other.constant.value).toBeCloseTo(own.constant.value - (0.7 * own.slope.value) / 2, 8);
  });

  it('keeps patients with the same predicted risk in one group, whatever their outcomes', () => {
    // A tree with four leaves whose risks are exactly right.
    const leaves = [
      [0.05, 200],
      [0.2, 100],
      [0.4, 50],
      [0.8, 60],
    ] as const;
    const risks = leaves.flatMap(([risk, patients]) => Array<number>(patients).fill(risk));
    const events = leaves.flatMap(([risk, patients]) =>
      Array.from({ length: patients }, (_, i) => Number(i < risk * patients)),
    );
    const found = calibrationOf(rankRisks(risks, events));
    expect(found.groups.map(({ patients }) => patients)).toEqual([200, 100, 50, 60]);
    found.groups.forEach(({ told, found: share }) => expect(share).toBeCloseTo(told, 12));
    expect(found.hosmerLemeshow!.chiSquare).toBeCloseTo(0, 9);
    expect(found.hosmerLemeshow!.degrees).toBe(4);
  });

  it('gives the same groups in any order of patients with the same risk', () => {
    const draw = randomStream(8, 'ties');
    for (let round = 0; round < 40; round++) {
      const levels = 2 + Math.floor(12 * draw.uniform());
      const risks = Array.from(
        { length: 150 },
        () => Math.ceil(levels * draw.uniform()) / (levels + 1),
      );
      const events = risks.map((risk) => Number(draw.uniform() < risk));
      const { groups } = calibrationOf(rankRisks(risks, events));
      expect(groups.reduce((sum, { patients }) => sum + patients, 0)).toBe(150);
      expect(groups.length).toBeLessThanOrEqual(Math.min(10, levels));
      // Every risk stands in one group: the mean risks of groups enclose no other group's risks.
      let place = 0;
      const sorted = risks.toSorted((a, b) => a - b);
      for (const { patients } of groups) {
        place += patients;
        if (place < 150) expect(sorted[place]).not.toBe(sorted[place - 1]);
      }
    }
  });

  it('rejects true risks about as often as it says, also where cases are rare', () => {
    const draw = randomStream(9, 'rejections');
    for (const [patients, most] of [
      [400, 0.15],
      [300, 0.6],
      [1000, 0.05],
    ]) {
      let [given, rejected] = [0, 0];
      for (let round = 0; round < 1500; round++) {
        const risks = Float64Array.from({ length: patients }, () => most * draw.uniform() ** 2);
        const events = risks.map((risk) => Number(draw.uniform() < risk));
        const test = hosmerLemeshow(
          joinedGroups(calibrationGroups(rankRisks(risks, events))),
        ).hosmerLemeshow;
        if (!test) continue;
        given++;
        rejected += Number(test.p < 0.05);
      }
      expect(given).toBeGreaterThan(1000);
      expect(rejected / given).toBeGreaterThan(0.03);
      expect(rejected / given).toBeLessThan(0.075);
    }
  });

  it('says nothing that cannot be told', () => {
    const certain = calibrationOf(rankRisks([0, 0.3, 1, 0.6], [0, 1, 1, 0]));
    expect(certain.certain).toBe(2);
    expect(certain.moved).toBeUndefined();
    expect(certain.smooth).toBeUndefined();
    expect(certain.hosmerLemeshow).toBeUndefined();
    expect(calibrationOf(rankRisks([0, 0.5], [1, 0])).logLoss).toBe(Infinity);
    const nobody = calibrationOf(rankRisks([0.2, 0.4], [0, 0]));
    expect(nobody.scaledBrier).toBeUndefined();
    expect(nobody.toldCases).toBeUndefined();
    // All have one risk: no slope, no curve.
    const same = calibrationOf(rankRisks(new Float64Array(100).fill(0.3), events.subarray(0, 100)));
    expect(same.moved).toBeUndefined();
    expect(same.smooth).toBeUndefined();
    // Told without an error: no finite slope.
    expect(recalibration([0.2, 0.3, 0.6, 0.7], [0, 0, 1, 1])).toBeUndefined();
  });

  it('draws nearly the same curve where patients are many and places are fewer', () => {
    const many = calibrationOf(rankRisks(risks, events));
    const fewer = calibrationOf(rankRisks(risks.subarray(0, 1000), events.subarray(0, 1000)));
    expect(many.smooth!.length).toBeLessThanOrEqual(201);
    expect(fewer.distance!.mean).toBeLessThan(0.05);
    const order = Int32Array.from(risks.keys()).sort((a, b) => risks[a] - risks[b]);
    const sorted = Float64Array.from(order, (i) => risks[i]);
    const exact = localCurve(
      sorted,
      Float64Array.from(order, (i) => events[i]),
      sorted,
    );
    const mean = exact.reduce((sum, one, i) => sum + Math.abs(one - sorted[i]), 0) / count;
    expect(many.distance!.mean).toBeCloseTo(mean, 5);
  });

  it('returns parabolas as they are', () => {
    const x = Float64Array.from({ length: 30 }, (_, i) => i / 10);
    const curve = localCurve(
      x,
      x.map((one) => 1 + 2 * one - one ** 2),
      x,
    );
    x.forEach((one, i) => expect(curve[i]).toBeCloseTo(1 + 2 * one - one ** 2, 10));
  });
});
