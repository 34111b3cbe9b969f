import { describe, expect, it } from 'vitest';
import { ratesOf, wilsonInterval, type Figure, type Rate } from '../../src/measures/index.ts';
import { loadValues } from '../reference/load.ts';

interface Proportion {
  value: number;
  wilson95: [number, number];
}
interface Ratio {
  value: number;
  ci95: [number, number];
}

describe('Wilson intervals', () => {
  // Newcombe (1998), Statistics in Medicine 17:857-872, table I, method 3.
  const { results } = loadValues<{
    results: {
      fraction: string;
      wilson95: number[];
      published_4_digits?: { wilson95: number[] };
    }[];
  }>('proportion_intervals_newcombe');

  it.each(results)('of $fraction as published', ({ fraction, wilson95, published_4_digits }) => {
    const [count, total] = fraction.split('/').map(Number);
    const interval = wilsonInterval(count, total)!;
    interval.forEach((bound, side) => expect(bound).toBeCloseTo(wilson95[side], 10));
    if (published_4_digits)
      expect(interval.map((bound) => Number(bound.toFixed(4)))).toEqual(
        published_4_digits.wilson95,
      );
  });

  it('has no interval for no patients', () => {
    expect(wilsonInterval(0, 0)).toBeUndefined();
  });
});

describe('rates of the liver scan (Altman & Bland 1994, BMJ 308:1552 and 309:102)', () => {
  const { results } = loadValues<{
    results: Record<'sensitivity' | 'specificity' | 'ppv' | 'npv' | 'accuracy', Proportion> & {
      lr_positive: Ratio;
      lr_negative: Ratio;
      kappa: Ratio;
    };
  }>('confusion_liver');
  const rates = ratesOf({ found: 231, missed: 27, falseAlarms: 32, rightlyLeft: 54 });

  it.each<[string, Rate, Proportion]>([
    ['sensitivity', rates.sensitivity, results.sensitivity],
    ['specificity', rates.specificity, results.specificity],
    ['positive predictive value', rates.positivePredictiveValue, results.ppv],
    ['negative predictive value', rates.negativePredictiveValue, results.npv],
    ['accuracy', rates.accuracy, results.accuracy],
  ])('%s with its interval', (_name, rate, expected) => {
    expect(rate.value).toBeCloseTo(expected.value, 12);
    rate.interval!.forEach((bound, i) => expect(bound).toBeCloseTo(expected.wilson95[i], 8));
  });

  it.each<[string, Figure, Ratio]>([
    ['likelihood ratio if called in', rates.positiveLikelihoodRatio, results.lr_positive],
    ['likelihood ratio if not', rates.negativeLikelihoodRatio, results.lr_negative],
    // Interval of Fleiss, Cohen & Everitt (1969).
    ['kappa', rates.kappa, results.kappa],
  ])('%s with its interval', (_name, figure, expected) => {
    expect(figure.value).toBeCloseTo(expected.value, 12);
    figure.interval!.forEach((bound, i) => expect(bound).toBeCloseTo(expected.ci95[i], 8));
  });

  it('agrees with the printed figures: 0.90, 0.63, 0.88, 0.67', () => {
    const { sensitivity, specificity, positivePredictiveValue, negativePredictiveValue } = rates;
    const printed = [sensitivity, specificity, positivePredictiveValue, negativePredictiveValue];
    expect(printed.map((rate) => rate.value!.toFixed(2))).toEqual(['0.90', '0.63', '0.88', '0.67']);
  });

  it('keeps the fraction and puts the majority baseline beside accuracy', () => {
    expect(rates.sensitivity).toMatchObject({ count: 231, total: 258 });
    expect(rates.majorityBaseline.value).toBe(0.75);
  });
});

describe('degenerate error tables', () => {
  it('gives no value, and never NaN, where a rate has no patients', () => {
    const rates = ratesOf({ found: 0, missed: 0, falseAlarms: 0, rightlyLeft: 12 });
    expect(rates.sensitivity.value).toBeUndefined();
    expect(rates.positivePredictiveValue.value).toBeUndefined();
    expect(rates.positiveLikelihoodRatio.value).toBeUndefined();
    expect(rates.kappa.value).toBeUndefined();
    expect(rates.specificity.value).toBe(1);
    expect(JSON.stringify(rates)).not.toMatch(/NaN|null/);
  });
});
