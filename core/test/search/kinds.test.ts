import { describe, expect, it } from 'vitest';
import type { Judged } from '../../src/measures/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { takeOutcome, takePredictions } from '../../src/outcome/index.ts';
import {
  correctForChoice,
  judgeFolds,
  scoredOf,
  searchMeasures,
  type JudgedBy,
} from '../../src/search/index.ts';

const count = 36;
const draw = randomStream(6, 'patients of every kind');
const costs = { missedCost: 5, falseAlarmCost: 1 };
const truth = Array.from({ length: count }, () => draw.normal());
const said = truth.map((one) => Math.round(4 * (one + draw.normal())) / 4);
const shares = Float64Array.from(
  truth.flatMap((one, i) => {
    const parts = [Math.exp(-said[i]), 1, Math.exp(said[i] + 0.1 * one)];
    const sum = parts.reduce((total, part) => total + part, 0);
    return parts.map((part) => part / sum);
  }),
);
const levels = ['low', 'middle', 'high'];

const ofKind: Record<string, { judged: Judged; by: JudgedBy }> = {
  levels: {
    judged: {
      outcome: {
        kind: 'levels',
        levels,
        ordered: true,
        values: Int32Array.from(truth, (one) => Number(one > -0.5) + Number(one > 0.7)),
      },
      predictions: { kind: 'levels', levels, shares },
    },
    by: {
      cases: { kind: 'levels', levels: ['high'] },
      costs: {
        ...costs,
        levelCosts: [
          [0, 1, 3],
          [2, 0, 1],
          [6, 2, 0],
        ],
      },
    },
  },
  number: {
    judged: {
      outcome: { kind: 'number', values: Float64Array.from(truth) },
      predictions: { kind: 'number', values: Float64Array.from(said) },
    },
    by: { cases: { kind: 'number', value: 0.6, side: 'from' }, costs },
  },
  'low numbers': {
    judged: {
      outcome: { kind: 'number', values: Float64Array.from(truth) },
      predictions: { kind: 'number', values: Float64Array.from(said) },
    },
    by: { cases: { kind: 'number', value: -0.6, side: 'up to' }, costs },
  },
};
const pick = ({ outcome, predictions }: Judged, rows: number[]): Judged => ({
  outcome: takeOutcome(outcome, rows),
  predictions: takePredictions(predictions, rows),
});
const all = Object.entries(ofKind).flatMap(([name, { judged, by }]) =>
  searchMeasures[judged.outcome.kind].map((measure) => ({
    name,
    id: measure.id,
    measure,
    judged,
    by,
  })),
);

describe('an estimate corrected for the choice, of other kinds', () => {
  it.each(all)('counts those drawn as often as they were: $name, $id', (one) => {
    const { measure, judged, by } = one;
    const drawn = Array.from({ length: count }, () => Math.floor(count * draw.uniform()));
    const left = truth.map((_, i) => i).filter((i) => !drawn.includes(i));
    const found = correctForChoice([scoredOf(judged, by)], measure, 1, 1, [drawn])!;
    const { cutoff } = scoredOf(pick(judged, drawn), by);
    const expected = measure.of({ ...scoredOf(pick(judged, left), by), cutoff });
    expect(found.value).toBeCloseTo(expected!, 10);
    expect(found.draws).toBe(1);
  });

  it('draws a patient with all the times that they were predicted', () => {
    const { judged, by } = ofKind.number;
    const again = truth.map((_, i) => i);
    const twice = pick(judged, [...again, ...again]);
    const measure = searchMeasures.number.find(({ id }) => id === 'mae')!;
    const draws = [again.map((i) => (i * 5) % 18), again.map((i) => 18 + ((i * 7) % 18))];
    const [once, both] = [judged, twice].map((one, k) =>
      correctForChoice([scoredOf(one, by)], measure, k + 1, 1, draws)!,
    );
    expect(both.value).toBeCloseTo(once.value, 12);
    both.interval.forEach((end, k) => expect(end).toBeCloseTo(once.interval[k], 12));
  });

  it('is the estimate itself where there is nothing to choose', () => {
    const { judged, by } = ofKind.levels;
    const measure = searchMeasures.levels.find(({ id }) => id === 'log loss')!;
    const found = correctForChoice([scoredOf(judged, by)], measure, 1, 4)!;
    expect(found.uncorrected).toBeCloseTo(measure.of(scoredOf(judged, by))!, 12);
    expect(Math.abs(found.value - found.uncorrected)).toBeLessThan(0.03);
    expect(found.draws).toBe(500);
  });

  it('chooses where less is better as where more is', () => {
    const { judged, by } = ofKind.number;
    const worse: Judged = {
      outcome: judged.outcome,
      predictions: { kind: 'number', values: Float64Array.from(said, (one) => one + 3) },
    };
    const both = [worse, judged].map((one) => scoredOf(one, by));
    for (const id of ['rmse', 'mae', 'r squared']) {
      const measure = searchMeasures.number.find((one) => one.id === id)!;
      expect(correctForChoice(both, measure, 1, 1)!.uncorrected).toBeCloseTo(
        measure.of(scoredOf(judged, by))!,
        10,
      );
    }
  });
});

describe('measures with costs of each patient', () => {
  it('move the cutoff and the cost, and nothing that looks at no call', () => {
    const values = Int8Array.from(truth, (one) => Number(one > 0.5));
    const risks = Float64Array.from(said, (one) => 1 / (1 + Math.exp(-one)));
    const judged: Judged = {
      outcome: { kind: 'event', values },
      predictions: { kind: 'event', risks },
    };
    const folds = truth.map((_, i) => i % 3);
    const own = {
      missed: Float64Array.from(truth, (_, i) => 1 + (i % 7)),
      falseAlarm: Float64Array.from(truth, (_, i) => 1 + (i % 2)),
    };
    const cases = { kind: 'event' as const };
    const plain = judgeFolds(judged, folds, { cases, costs });
    const each = judgeFolds(judged, folds, { cases, costs: { ...costs, own } });
    for (const id of ['auc', 'brier', 'log loss']) expect(each[id]).toEqual(plain[id]);
    // By hand: each fold at the cheapest of all cutoffs of the other folds, of equally cheap ones the highest.
    const rows = [...truth.keys()];
    const at = (cutoff: number, some: number[]) =>
      some.reduce((sum, i) => {
        const isCalled = risks[i] >= cutoff;
        if (values[i] === 1) return sum + (isCalled ? 0 : own.missed[i]);
        return sum + (isCalled ? own.falseAlarm[i] : 0);
      }, 0);
    const total = [0, 1, 2].reduce((sum, fold) => {
      const others = rows.filter((i) => folds[i] !== fold);
      const cutoffs = [...others.map((i) => risks[i]), 2].sort((a, b) => b - a);
      const costsOf = cutoffs.map((cutoff) => at(cutoff, others));
      const best = cutoffs[costsOf.indexOf(Math.min(...costsOf))];
      // A cutoff with few decimals that calls in the same of the others may lie a little lower.
      const below = Math.max(...others.map((i) => risks[i]).filter((risk) => risk < best), 0);
      const own = rows.filter((i) => folds[i] === fold);
      for (const i of own) expect(risks[i] > below && risks[i] < best).toBe(false);
      return sum + at(best, own);
    }, 0);
    expect(each.cost.value).toBeCloseTo((1000 * total) / count, 9);
  });
});
