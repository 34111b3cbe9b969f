import { describe, expect, it } from 'vitest';
import {
  costPresets,
  figuresOf,
  giveLevels,
  judgeOutOfFold,
  levelCostPerThousand,
  levelKappa,
  levelRates,
  levelReferenceCost,
  levelTable,
  measuresByKind,
  numberErrors,
  type LevelTable,
} from '../../src/measures/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import type { Outcome, Predictions } from '../../src/outcome/index.ts';
import { loadValues } from '../reference/load.ts';

interface Fraction {
  value: number;
}
interface TableValues {
  table: number[][];
  levels: (number | string)[];
  per_level: {
    level: number | string;
    precision: Fraction | null;
    recall: Fraction;
    specificity: Fraction;
  }[];
  accuracy: Fraction;
  kappa: { kappa: number; se: number };
  kappa_linear: { kappa: number; se: number };
  kappa_quadratic: { kappa: number; se: number };
}
interface StageValues {
  results: {
    error_tables: TableValues[];
    inline_probabilities: {
      values: number[][];
      true_level: number[];
      log_loss: number;
      accuracy: number;
    };
  };
}
const { results } = loadValues<StageValues>('measures_pbc_stage');

describe('level costs in the figures', () => {
  const judged = {
    outcome: {
      kind: 'levels' as const,
      values: Int32Array.of(0, 1, 2, 2),
      levels: ['none', 'mild', 'severe'],
      ordered: true,
    },
    predictions: {
      kind: 'levels' as const,
      levels: ['none', 'mild', 'severe'],
      // The third is most likely none, but might well be severe.
      shares: Float64Array.of(0.8, 0.1, 0.1, 0.2, 0.7, 0.1, 0.5, 0.1, 0.4, 0.1, 0.2, 0.7),
    },
  };

  it('count one an error of the likeliest level where there is no table', () => {
    const figures = figuresOf(judged);
    expect(figures['level cost'].value).toBe(250);
    expect(figures['right level'].value).toBe(0.75);
  });

  it('give the cheapest level, and its cost, where there is one', () => {
    const costs = [
      [0, 1, 3],
      [2, 0, 1],
      [10, 5, 0],
    ];
    const figures = figuresOf(judged, costs);
    // Expected costs of the third patient: 4.2, 2.5 and 1.6; of the first 1.2, 1.3 and 2.5.
    expect(figures['right level'].value).toBe(1);
    expect(figures['level cost'].value).toBe(0);
  });
});

describe.each(results.error_tables.map((one) => [one.levels.join(', '), one] as const))(
  'several levels (%s)',
  (_name, values) => {
    const table: LevelTable = { levels: values.levels.map(String), counts: values.table };

    it('rates of each level against the others', () => {
      const rates = levelRates(table);
      values.per_level.forEach((expected, k) => {
        expect(rates[k].level).toBe(String(expected.level));
        expect(rates[k].positivePredictiveValue.value).toEqual(
          expected.precision === null ? undefined : expect.closeTo(expected.precision.value, 12),
        );
        expect(rates[k].sensitivity.value).toBeCloseTo(expected.recall.value, 12);
        expect(rates[k].specificity.value).toBeCloseTo(expected.specificity.value, 12);
      });
    });

    it.each([
      ['none', 'kappa'],
      ['linear', 'kappa_linear'],
      ['quadratic', 'kappa_quadratic'],
    ] as const)('kappa with weights %s, and its interval', (weights, name) => {
      const { kappa, se } = values[name];
      const found = levelKappa(table, weights);
      expect(found.value).toBeCloseTo(kappa, 10);
      expect(found.interval![0]).toBeCloseTo(kappa - 1.959963984540054 * se, 8);
      expect(found.interval![1]).toBeCloseTo(kappa + 1.959963984540054 * se, 8);
    });
  },
);

describe('levels given by their shares', () => {
  const { values, true_level, log_loss, accuracy } = results.inline_probabilities;
  const levels = ['1', '2', '3', '4'];
  const predictions: Predictions<'levels'> = {
    kind: 'levels',
    levels,
    shares: Float64Array.from(values.flat()),
  };
  const outcome: Outcome<'levels'> = {
    kind: 'levels',
    levels,
    ordered: true,
    values: Int32Array.from(true_level, (level) => level - 1),
  };

  it('measures_pbc_stage: share of right levels and log loss', () => {
    const figures = figuresOf({ outcome, predictions });
    expect(figures['right level'].value).toBeCloseTo(accuracy, 12);
    expect(figures['log loss'].value).toBeCloseTo(log_loss, 9);
    expect(Object.keys(figures)).toEqual(measuresByKind.levels.map(({ id }) => id));
  });

  it('are the likeliest, or what costs least to be wrong with', () => {
    const likeliest = giveLevels(predictions, { rule: 'likeliest' });
    expect([...giveLevels(predictions, { rule: 'cheapest', costs: costPresets.equal(4) })]).toEqual(
      [...likeliest],
    );
    // Who takes level 4 for less pays so much that everybody with a share of it is given it.
    const dear = costPresets
      .equal(4)
      .map((row, i) => (i === 3 ? row.map((cost) => 1000 * cost) : row));
    const given = giveLevels(predictions, { rule: 'cheapest', costs: dear });
    given.forEach((code, i) =>
      expect([i, code]).toEqual([i, values[i][3] > 0.001 ? 3 : likeliest[i]]),
    );
  });

  it('cost what the table of costs says, beside the one level that is cheapest for all', () => {
    const table = levelTable(outcome, giveLevels(predictions, { rule: 'likeliest' }));
    const wrong = 35 - table.counts.reduce((sum, row, k) => sum + row[k], 0);
    expect(levelCostPerThousand(table, costPresets.equal(4))).toBeCloseTo((1000 * wrong) / 35, 9);
    const have = table.counts.map((row) => row.reduce((sum, count) => sum + count, 0));
    expect(levelReferenceCost(table, costPresets.equal(4))).toBeCloseTo(
      (1000 * (35 - Math.max(...have))) / 35,
      9,
    );
    expect(costPresets['squared distance'](3)).toEqual([
      [0, 1, 4],
      [1, 0, 1],
      [4, 1, 0],
    ]);
  });
});

describe('numbers', () => {
  it('have the errors that a table of four patients shows', () => {
    const found = numberErrors([10, 20, 30, NaN, 40], [12, 18, 30, 5, 44])!;
    expect(found.patients).toBe(4);
    expect(found.rootMeanSquare).toBeCloseTo(Math.sqrt((4 + 4 + 0 + 16) / 4), 12);
    expect(found.meanAbsolute).toBe(2);
    expect(found.bias).toBe(1);
    expect(found.rSquared).toBeCloseTo(1 - 24 / 500, 12);
  });

  it('without variation have no share explained, and without patients no errors', () => {
    expect(numberErrors([5, 5], [4, 6])).toMatchObject({ meanAbsolute: 1 });
    expect(numberErrors([5, 5], [4, 6])!.rSquared).toBeUndefined();
    expect(numberErrors([NaN], [4])).toBeUndefined();
  });
});

describe('cases of every kind', () => {
  const draw = randomStream(11, 'cases');
  const patients = 400;
  const observed = Float64Array.from({ length: patients }, () => 100 + 30 * draw.normal());
  const predicted = observed.map((value) => value + 10 * draw.normal());
  const folds = Uint8Array.from(observed, (_, i) => i % 5);
  const costs = { missedCost: 8, falseAlarmCost: 1 };
  const judge = (side: 'from' | 'up to', value: number) =>
    judgeOutOfFold(
      {
        outcome: { kind: 'number', values: observed },
        predictions: { kind: 'number', values: predicted },
      },
      { kind: 'number', value, side },
      folds,
      { rule: 'cheapest' },
      costs,
    );

  it('a number from a value on: the table at the cutoff is counted patient by patient', () => {
    const { cutoff, table, costPerThousand, figures } = judge('from', 120);
    const count = (isCase: boolean, called: boolean) =>
      observed.reduce(
        (sum, value, i) =>
          sum + Number(value >= 120 === isCase && predicted[i] >= cutoff === called),
        0,
      );
    expect(table).toEqual({
      found: count(true, true),
      missed: count(true, false),
      falseAlarms: count(false, true),
      rightlyLeft: count(false, false),
    });
    // Missing is dear: the cutoff on the prediction lies below the value that makes a case.
    expect(cutoff).toBeLessThan(120);
    expect(costPerThousand).toBeCloseTo((1000 * (8 * table.missed + table.falseAlarms)) / 400, 9);
    expect(figures!['rmse'].value).toBeCloseTo(10, 0);
  });

  it('a number up to a value is the same turned round', () => {
    const low = judge('up to', 80);
    const mirrored = judgeOutOfFold(
      {
        outcome: { kind: 'number', values: observed.map((value) => -value) },
        predictions: { kind: 'number', values: predicted.map((value) => -value) },
      },
      { kind: 'number', value: -80, side: 'from' },
      folds,
      { rule: 'cheapest' },
      costs,
    );
    expect(low.table).toEqual(mirrored.table);
    expect(low.cutoff).toBe(mirrored.cutoff);
    expect(low.cutoff).toBeLessThan(-80);
  });

  it('several levels: whoever has the summed share of the case levels is called in', () => {
    const levels = ['none', 'mild', 'severe'];
    const shares = Float64Array.from(
      Array.from({ length: patients }, (_, i) => {
        const severe = Math.min(0.9, Math.max(0.02, (predicted[i] - 60) / 150));
        return [0.95 - severe, 0.05, severe];
      }).flat(),
    );
    const values = Int32Array.from(observed, (value) => (value > 125 ? 2 : value > 105 ? 1 : 0));
    const judged = judgeOutOfFold(
      {
        outcome: { kind: 'levels', values, levels, ordered: true },
        predictions: { kind: 'levels', levels, shares },
      },
      { kind: 'levels', levels: ['mild', 'severe'] },
      folds,
      { rule: 'find', share: 0.9 },
      costs,
    );
    const cases = [...values].filter((code) => code > 0).length;
    expect(judged.table.found + judged.table.missed).toBe(cases);
    expect(judged.table.found).toBeGreaterThanOrEqual(Math.ceil(0.9 * cases));
    const called = [...values.keys()].filter(
      (i) => shares[3 * i + 1] + shares[3 * i + 2] >= judged.cutoff,
    );
    expect(called.length).toBe(judged.table.found + judged.table.falseAlarms);
  });
});
