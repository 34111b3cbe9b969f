import { describe, expect, it } from 'vitest';
import { areaUnderCurve } from '../../src/measures/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import {
  coxSnellOfArea,
  enoughForEvents,
  enoughForNumbers,
  hardest,
  largestCoxSnell,
  patientsForWidth,
  widthOfShare,
  type Criterion,
} from '../../src/planning/index.ts';
import { loadValues } from '../reference/load.ts';

interface Expected {
  n: number;
  n_exact?: number;
}
interface YesNo {
  parameters: number;
  cox_snell_r2: number;
  outcome_share: number;
  target_shrinkage: number;
  accepted_optimism: number;
  accepted_margin: number;
  largest_cox_snell_r2: number;
  criterion1: Expected;
  criterion2: Expected;
  criterion3: Expected;
  criterion4_mean_absolute_error?: Expected & { accepted_error: number };
  n_required_criteria_1_to_3: number;
}
interface OfNumber {
  parameters: number;
  r2_adjusted: number;
  mean: number;
  sd: number;
  criterion1: Expected;
  criterion2: Expected;
  criterion3: Expected;
  criterion4_alone: Expected;
  n_required: number;
}
interface Width {
  expected_share: number;
  full_width: number;
  confidence: number;
  n: number;
  width_at_n: number;
}
const values = loadValues<{
  results: { yes_no: YesNo[]; number: OfNumber[]; wilson_width: Width[] };
}>('planning').results;

const find = (criteria: Criterion[], id: Criterion['id']) => criteria.find((one) => one.id === id)!;
const near = (criterion: Criterion, expected: Expected) => {
  expect(criterion.patients).toBe(expected.n);
  if (expected.n_exact !== undefined && criterion.exact !== undefined)
    expect(criterion.exact / expected.n_exact).toBeCloseTo(1, 9);
};

describe('patients needed for a yes/no outcome (Riley et al. 2019, 2020)', () => {
  it.each(values.yes_no)(
    '$parameters parameters, R² $cox_snell_r2, share $outcome_share',
    (one) => {
      const allow = {
        shrinkage: one.target_shrinkage,
        optimism: one.accepted_optimism,
        margin: one.accepted_margin,
        riskError: one.criterion4_mean_absolute_error?.accepted_error ?? 0.05,
        factor: 1.1,
      };
      const plan = {
        parameters: one.parameters,
        share: one.outcome_share,
        coxSnell: one.cox_snell_r2,
      };
      const criteria = enoughForEvents(plan, allow);
      near(find(criteria, 'shrinkage'), one.criterion1);
      near(find(criteria, 'optimism'), one.criterion2);
      near(find(criteria, 'overall risk'), one.criterion3);
      if (one.criterion4_mean_absolute_error)
        near(find(criteria, 'error of risks'), one.criterion4_mean_absolute_error);
      expect(largestCoxSnell(one.outcome_share) / one.largest_cox_snell_r2).toBeCloseTo(1, 12);
      const first = criteria.filter(({ id }) => id !== 'error of risks');
      expect(hardest(first).patients).toBe(one.n_required_criteria_1_to_3);
    },
  );

  it('says nothing of the error of risks beyond the parameters that were studied', () => {
    const ids = (parameters: number) =>
      enoughForEvents({ parameters, share: 0.2, coxSnell: 0.1 }).map(({ id }) => id);
    expect(ids(30)).toContain('error of risks');
    expect(ids(31)).not.toContain('error of risks');
  });

  it('asks for more patients for more parameters and for less of a signal', () => {
    const asks = (parameters: number, coxSnell: number) =>
      hardest(enoughForEvents({ parameters, share: 0.2, coxSnell })).patients;
    expect(asks(20, 0.1)).toBeGreaterThan(asks(10, 0.1));
    expect(asks(10, 0.05)).toBeGreaterThan(asks(10, 0.1));
  });
});

describe('patients needed for a number (Riley et al. 2019)', () => {
  it.each(values.number)('$parameters parameters, R² $r2_adjusted', (one) => {
    const { parameters, r2_adjusted: r2, mean, sd } = one;
    const criteria = enoughForNumbers({ parameters, r2, mean, sd });
    near(find(criteria, 'shrinkage'), one.criterion1);
    near(find(criteria, 'optimism'), one.criterion2);
    near(find(criteria, 'residual SD'), one.criterion3);
    near(find(criteria, 'overall mean'), one.criterion4_alone);
    expect(hardest(criteria).patients).toBe(one.n_required);
  });

  it('does not judge a mean that is not above 0', () => {
    const criteria = enoughForNumbers({ parameters: 5, r2: 0.3, mean: -2, sd: 4 });
    expect(criteria.map(({ id }) => id)).toEqual(['shrinkage', 'optimism', 'residual SD']);
  });
});

describe('held-out cases for an interval of a width', () => {
  const quantiles: Record<string, number> = { 0.95: 1.959963984540054, 0.9: 1.6448536269514722 };

  it.each(values.wilson_width)('$expected_share to $full_width', (one) => {
    const z = quantiles[one.confidence];
    expect(patientsForWidth(one.expected_share, one.full_width, z)).toBe(one.n);
    expect(widthOfShare(one.expected_share, one.n, z) / one.width_at_n).toBeCloseTo(1, 9);
    expect(widthOfShare(one.expected_share, one.n - 1, z)).toBeGreaterThan(one.full_width);
  });
});

describe('R² of an AUC', () => {
  it.each([
    [0.7, 0.2],
    [0.8, 0.05],
    [0.9, 0.5],
  ])('of %f with share %f is that of simulated patients', (area, share) => {
    const draw = randomStream(5, `r2 ${area}`);
    const n = 200_000;
    // The quantile of the AUC by bisection of simulated distances would be circular: 0.7, 0.8, 0.9 have
    // distances of 0.7416, 1.1902 and 1.8124 SDs (normal table).
    const apart = { 0.7: 0.7416, 0.8: 1.1902, 0.9: 1.8124 }[area]!;
    const events = Float64Array.from({ length: n }, () => Number(draw.uniform() < share));
    const scores = events.map((event) => draw.normal() + event * apart);
    expect(areaUnderCurve(scores, events)!.value).toBeCloseTo(area, 2);
    const base = Math.log(share / (1 - share));
    let gained = 0;
    scores.forEach((score, i) => {
      const risk = 1 / (1 + Math.exp(-(base + apart * score - apart ** 2 / 2)));
      gained += Math.log(events[i] ? risk / share : (1 - risk) / (1 - share));
    });
    expect(coxSnellOfArea(area, share)).toBeCloseTo(1 - Math.exp((-2 * gained) / n), 2);
  });

  it('is nothing where the AUC is one half, and below its maximum however good the model', () => {
    expect(coxSnellOfArea(0.5, 0.3)).toBeCloseTo(0, 9);
    expect(coxSnellOfArea(0.999, 0.3)).toBeLessThan(largestCoxSnell(0.3));
    expect(coxSnellOfArea(0.999, 0.3)).toBeGreaterThan(0.9 * largestCoxSnell(0.3));
  });
});
