import { describe, expect, it } from 'vitest';
import {
  clustersOf,
  giveLevels,
  levelAreas,
  levelKappa,
  levelRates,
  levelTable,
  numberAgreement,
  withinTolerance,
  type Interval,
} from '../../src/measures/index.ts';
import type { Outcome, Predictions } from '../../src/outcome/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { roundsOf, slack } from '../simulation.ts';

const levels = ['none', 'mild', 'severe'];

/** Patients with several rows of levels: what a patient has in common moves outcome and shares of all their rows. */
function levelRows(patients: number, rows: number, seed: number) {
  const draw = randomStream(seed, 'levels of patients');
  const size = patients * rows;
  const values = new Int32Array(size);
  const shares = new Float64Array(3 * size);
  for (let row = 0, own = 0, shift = 0; row < size; row++) {
    if (row % rows === 0) [own, shift] = [1.3 * draw.normal(), 1.1 * draw.normal()];
    const seen = own + 0.3 * draw.normal();
    const truth = seen + shift + 0.5 * draw.normal();
    values[row] = truth < -0.6 ? 0 : truth < 0.9 ? 1 : 2;
    const weights = [-0.9, 0.1, 1.1].map((at) => Math.exp(-((seen - at) ** 2)));
    const sum = weights[0] + weights[1] + weights[2];
    weights.forEach((weight, k) => (shares[3 * row + k] = weight / sum));
  }
  const outcome: Outcome<'levels'> = { kind: 'levels', levels, ordered: true, values };
  const predictions: Predictions<'levels'> = { kind: 'levels', levels, shares };
  return { outcome, predictions, codes: Int32Array.from(values, (_, i) => Math.floor(i / rows)) };
}

function ofLevels({ outcome, predictions, codes }: ReturnType<typeof levelRows>, by: boolean) {
  const clusters = by ? clustersOf(codes) : undefined;
  const given = giveLevels(predictions, { rule: 'likeliest' });
  const table = levelTable(outcome, given);
  const rows = clusters && { values: outcome.values, given, clusters };
  const rates = levelRates(table, rows);
  return {
    sensitivity: rates[1].sensitivity,
    specificity: rates[1].specificity,
    'positive predictive value': rates[2].positivePredictiveValue,
    kappa: levelKappa(table, 'none', rows),
    'weighted kappa': levelKappa(table, 'quadratic', rows),
    area: levelAreas(outcome, predictions, clusters).levels[2].area!,
  };
}

/** The same with numbers. */
function numberRows(patients: number, rows: number, seed: number) {
  const draw = randomStream(seed, 'numbers of patients');
  const size = patients * rows;
  const [observed, predicted] = [new Float64Array(size), new Float64Array(size)];
  for (let row = 0, own = 0, shift = 0; row < size; row++) {
    if (row % rows === 0) [own, shift] = [2 * draw.normal(), 1.2 * draw.normal()];
    predicted[row] = 50 + own + 0.4 * draw.normal();
    observed[row] = predicted[row] + 0.3 + shift + 0.6 * draw.normal();
  }
  return { observed, predicted, codes: Int32Array.from(observed, (_, i) => Math.floor(i / rows)) };
}

function ofNumbers({ observed, predicted, codes }: ReturnType<typeof numberRows>, by: boolean) {
  const clusters = by ? clustersOf(codes) : undefined;
  const found = numberAgreement(observed, predicted, 1, clusters)!;
  const { bias, meanAbsolute, rootMeanSquare, limits, line } = found;
  return {
    ...{ bias, meanAbsolute, rootMeanSquare },
    ...{ 'upper limit': limits.upper, slope: line!.slope },
    within: withinTolerance(observed, predicted, 1, clusters),
  };
}

interface Told {
  value?: number;
  interval?: Interval;
}

/** Share of intervals that hold the figure of a population so large that chance is nothing. */
function coverage<Drawn>(
  draw: (patients: number, seed: number) => Drawn,
  figures: (drawn: Drawn, by: boolean) => Record<string, Told>,
  { rounds, patients, by, all }: { rounds: number; patients: number; by: boolean; all: number },
): Record<string, number> {
  const truth = figures(draw(all, 1), false);
  const held = Object.fromEntries(Object.keys(truth).map((name) => [name, 0]));
  for (let round = 0; round < rounds; round++) {
    const found = figures(draw(patients, 100 + round), by);
    for (const [name, { value }] of Object.entries(truth)) {
      const [from, to] = found[name].interval ?? [NaN, NaN];
      held[name] += Number(from <= value! && value! <= to) / rounds;
    }
  }
  return held;
}

describe('figures of levels where patients have several rows', () => {
  const drawn = (patients: number, seed: number) => levelRows(patients, 4, seed);

  it('have intervals that hold in about 95%, where those by row do not', () => {
    const asked = { rounds: roundsOf(200), patients: 120, all: 20_000 };
    const byCluster = coverage(drawn, ofLevels, { ...asked, by: true });
    for (const share of Object.values(byCluster)) {
      expect(share).toBeGreaterThan(0.94 - slack(0.94, asked.rounds));
    }
    const byRow = coverage(drawn, ofLevels, { ...asked, by: false });
    expect(Math.min(...Object.values(byRow))).toBeLessThan(0.85);
  });

  it('are those of rows where every patient has one', () => {
    const plain = levelRows(200, 1, 5);
    const given = giveLevels(plain.predictions, { rule: 'likeliest' });
    const table = levelTable(plain.outcome, given);
    const all = {
      values: plain.outcome.values,
      given,
      clusters: { codes: plain.codes, count: 200 },
    };
    levelRates(table, all).forEach((rates, k) => {
      const own = levelRates(table)[k];
      expect(rates.sensitivity.value).toBe(own.sensitivity.value);
      expect(rates.specificity.value).toBe(own.specificity.value);
    });
    const [one, other] = [levelKappa(table, 'linear', all), levelKappa(table, 'linear')];
    expect(one.value).toBe(other.value);
    expect(one.interval![0]).toBeCloseTo(other.interval![0], 1);
  });
});

describe('figures of numbers where patients have several rows', () => {
  const drawn = (patients: number, seed: number) => numberRows(patients, 4, seed);

  it('have intervals that hold in about 95%, where those by row do not', () => {
    const asked = { rounds: roundsOf(80), patients: 40, all: 600 };
    const byCluster = coverage(drawn, ofNumbers, { ...asked, by: true });
    for (const share of Object.values(byCluster)) {
      // A little less than nominal with 40 patients.
      expect(share).toBeGreaterThan(0.93 - slack(0.93, asked.rounds));
    }
    const byRow = coverage(drawn, ofNumbers, { ...asked, by: false });
    expect(Math.min(...Object.values(byRow))).toBeLessThan(0.85);
  });

  it('do not depend on the unit, and shift with it', () => {
    const { observed, predicted, codes } = numberRows(60, 3, 9);
    const clusters = clustersOf(codes);
    const one = numberAgreement(observed, predicted, 1, clusters)!;
    const other = numberAgreement(
      observed.map((value) => value * 1000),
      predicted.map((value) => value * 1000),
      1,
      clusters,
    )!;
    for (const name of ['bias', 'meanAbsolute', 'rootMeanSquare'] as const)
      one[name].interval!.forEach((end, i) =>
        expect(other[name].interval![i] / 1000).toBeCloseTo(end, 8),
      );
    expect(other.rSquared.interval![0]).toBeCloseTo(one.rSquared.interval![0], 8);
    expect(other.line!.slope.interval![1]).toBeCloseTo(one.line!.slope.interval![1], 8);
  });
});
