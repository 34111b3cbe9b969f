import { describe, expect, it } from 'vitest';
import {
  balanceLearning,
  balancingSchema,
  corrected,
  shiftOf,
  type BalancedLearning,
  type Balancing,
} from '../../src/balancing/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { ofKind, predictionsOf } from '../../src/outcome/index.ts';
import type { Inputs, PredictorColumn } from '../../src/preparation/index.ts';
import { collectOutOfFold, fitPart, planParts } from '../../src/tuning/index.ts';
import { eventOutcome } from '../families/fit-event.ts';

const draw = randomStream(23, 'balancing');
const count = 4000;
const x = Float64Array.from({ length: count }, () => draw.normal());
const mark = Float64Array.from({ length: count }, () => Number(draw.uniform() < 0.4));
const events = Array.from(x, (value, i) =>
  Number(draw.uniform() < 1 / (1 + Math.exp(-(-2.6 + 0.9 * value + 0.6 * mark[i])))),
);
const inputs: Inputs = { rowCount: count, names: ['x', 'mark'], columns: [x, mark] };
const outcome = eventOutcome(events);
const cases = events.reduce((sum, one) => sum + one, 0);
const share = cases / count;

const every: Balancing[] = [
  { way: 'weights', share: 0.5 },
  { way: 'fewer others', share: 0.4 },
  { way: 'copies of cases', share: 0.5 },
  { way: 'cases in between', share: 0.5, neighbours: 5 },
];

const casesOf = ({ outcome: of }: BalancedLearning) =>
  ofKind(of, 'event').values.reduce((sum, one) => sum + one, 0);

describe.each(every)('balancing by $way', (balancing) => {
  const balanced = balanceLearning(inputs, outcome, balancing, 1);

  it('gives cases the share that was asked for, to one patient', () => {
    const { rowCount } = balanced.inputs;
    const weight = (i: number) => balanced.weights?.[i] ?? 1;
    const { values } = ofKind(balanced.outcome, 'event');
    let [all, of] = [0, 0];
    for (let i = 0; i < rowCount; i++) {
      all += weight(i);
      if (values[i] === 1) of += weight(i);
    }
    const wanted = balancing.way === 'none' ? 0 : balancing.share;
    expect(Math.abs(of / all - wanted)).toBeLessThan(1 / rowCount);
    for (const column of balanced.inputs.columns) expect(column).toHaveLength(rowCount);
  });

  it('is the same for the same seed; what is drawn is another for another', () => {
    expect(balanceLearning(inputs, outcome, balancing, 1)).toEqual(balanced);
    const other = balanceLearning(inputs, outcome, balancing, 2);
    if (balancing.way !== 'weights') expect(other).not.toEqual(balanced);
  });

  it('brings the risks back: out of fold they add up to the cases that there are', () => {
    const predictors: PredictorColumn[] = [
      { name: 'x', type: 'number', values: x },
      { name: 'mark', type: 'coded', levels: ['no', 'yes'], codes: Int32Array.from(mark) },
    ];
    const rows = Int32Array.from(x.keys());
    const folds = Uint8Array.from(rows, (row) => row % 5);
    const recipe = { family: 'logistic', settings: {}, seed: 1 };
    const risks = (way?: Balancing) => {
      const results = planParts(rows, folds, Int32Array.of(0)).map((part) =>
        fitPart(part, predictors, outcome, { ...recipe, ...(way && { balancing: way }) }),
      );
      return {
        results,
        risks: predictionsOf(collectOutOfFold(folds, results), 'event').risks,
      };
    };
    const [plain, own] = [risks(), risks(balancing)];
    const sum = own.risks.reduce((total, risk) => total + risk, 0);
    // Sampling leaves an error of its own; uncorrected it would be four times as many.
    expect(Math.abs(sum / cases - 1)).toBeLessThan(0.12);
    // Patient by patient they are the risks of a fit on patients as they came, near enough.
    const apart = own.risks.map((risk, i) => Math.abs(risk - plain.risks[i]));
    expect(apart.reduce((total, one) => total + one, 0) / count).toBeLessThan(0.02);
    const whole = own.results.at(-1)!;
    expect(whole.warnings.map(({ code }) => code)).toContain('balanced');
    expect(whole.correction!.share).toBeCloseTo(share, 12);
  });
});

describe('what balancing leaves alone', () => {
  it('patients whose cases are common enough already', () => {
    const way: Balancing = { way: 'fewer others', share: 0.05 };
    expect(balanceLearning(inputs, outcome, way, 1)).toEqual({ inputs, outcome });
  });

  it('outcomes that are no yes or no', () => {
    const number = { kind: 'number' as const, values: x };
    expect(balanceLearning(inputs, number, { way: 'weights', share: 0.5 }, 1)).toEqual({
      inputs,
      outcome: number,
    });
  });

  it('every real patient, where cases are added', () => {
    for (const way of ['copies of cases', 'cases in between'] as const) {
      const balancing = balancingSchema.parse({ way, share: 0.3 });
      const more = balanceLearning(inputs, outcome, balancing, 1);
      expect([...more.inputs.columns[0].subarray(0, count)]).toEqual([...x]);
      expect(casesOf(more) - cases).toBe(more.inputs.rowCount - count);
    }
  });
});

it('cases in between lie between two cases, and what is 0 or 1 stays so', () => {
  const balancing = balancingSchema.parse({ way: 'cases in between', share: 0.3, neighbours: 1 });
  const made = balanceLearning(inputs, outcome, balancing, 3);
  const of = events.flatMap((event, i) => (event === 1 ? [i] : []));
  for (let i = count; i < made.inputs.rowCount; i++) {
    const [value, marked] = made.inputs.columns.map((column) => column[i]);
    expect([0, 1]).toContain(marked);
    // The case it starts from is known by its turn; its one neighbour is found by hand.
    const from = of[(i - count) % of.length];
    const near = of
      .filter((other) => other !== from)
      .reduce(
        (best, other) => {
          const far = (one: number) => (x[one] - x[from]) ** 2 + (mark[one] - mark[from]) ** 2;
          return far(other) < far(best) ? other : best;
        },
        of[0] === from ? of[1] : of[0],
      );
    const [low, high] = [Math.min(x[from], x[near]), Math.max(x[from], x[near])];
    expect(value).toBeGreaterThanOrEqual(low - 1e-12);
    expect(value).toBeLessThanOrEqual(high + 1e-12);
  }
});

it('the correction is that of the odds, by hand', () => {
  // 10% cases learned as 50%: odds are a ninth, so a risk of 0.5 is one of 0.1.
  const correction = { share: 0.1, learned: 0.5 };
  const found = corrected({ kind: 'event', risks: Float64Array.of(0.5, 0.9, 0, 1) }, correction);
  const { risks } = predictionsOf(found, 'event');
  expect(risks[0]).toBeCloseTo(0.1, 12);
  expect(risks[1]).toBeCloseTo(0.5, 12);
  expect([risks[2], risks[3]]).toEqual([0, 1]);
  expect(shiftOf(correction)).toBeCloseTo(Math.log(9), 12);
});
