import { describe, expect, it } from 'vitest';
import { familyOf, type Settings } from '../../src/families/index.ts';
import { judgeOutOfFold, type Judged } from '../../src/measures/index.ts';
import { numbersOf, takeOutcome, type Outcome } from '../../src/outcome/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import type { PredictorColumn } from '../../src/preparation/index.ts';
import {
  fittedTogether,
  groupsOf,
  judgeFolds,
  readyPart,
  tryOnPart,
  type JudgedBy,
  type TriedOnPart,
} from '../../src/search/index.ts';
import { collectOutOfFold, fitPart, planParts } from '../../src/tuning/index.ts';

const patients = 180;
const draw = randomStream(3, 'patients of a search');
const column = (name: string): PredictorColumn => ({
  name,
  type: 'number',
  values: Float64Array.from({ length: patients }, () => draw.normal()),
});
const predictors = ['urea', 'age', 'pulse'].map(column);
const valueOf = (j: number, i: number) => (predictors[j] as { values: Float64Array }).values[i];
const rows = Int32Array.from({ length: patients }, (_, i) => i);
const score = Array.from(rows, (i) => valueOf(0, i) + 0.5 * valueOf(1, i) ** 2 + draw.normal());
const outcomes: Record<string, Outcome> = {
  event: { kind: 'event', values: Int8Array.from(score, (one) => Number(one > 1)) },
  levels: {
    kind: 'levels',
    levels: ['none', 'mild', 'severe'],
    ordered: true,
    values: Int32Array.from(score, (one) => Number(one > 0.3) + Number(one > 1.4)),
  },
  number: { kind: 'number', values: Float64Array.from(score) },
};
const folds = Uint8Array.from(rows, (i) => (i * 7) % 3);
const parts = planParts(rows, folds, new Int32Array(0)).slice(0, 3);
const costs = { missedCost: 4, falseAlarmCost: 1 };
const by = { cases: { kind: 'event' as const }, costs };
const byOf = (kind: string): JudgedBy =>
  kind === 'event'
    ? by
    : kind === 'number'
      ? { cases: { kind: 'number' as const, value: 1, side: 'from' as const }, costs }
      : { cases: { kind: 'levels' as const, levels: ['severe'] }, costs };

/** Settings that come with one fit, by family. */
const ways: Record<string, { tried: Settings[]; digits: number }> = {
  'decision-tree': {
    tried: [2, 3, 5, 9].map((leaves) => ({ size: 'leaves', leaves })),
    digits: 12,
  },
  'random-forest': { tried: [1, 4, 10, 25].map((trees) => ({ trees })), digits: 12 },
  'boosted-trees': { tried: [5, 12, 30].map((trees) => ({ until: 'all', trees })), digits: 12 },
  'nearest-patients': {
    tried: [1, 7, 20].map((neighbours) => ({ neighboursBy: 'given', neighbours })),
    digits: 12,
  },
  penalised: {
    tried: [0.2, 0.05, 0.01, 0.002].map((strength) => ({ strengthBy: 'given', strength })),
    // Descent ends where steps are small, and comes from the strength before it.
    digits: 5,
  },
};
const everyWay = Object.entries(ways).flatMap(([family, way]) =>
  familyOf(family).description.outcomes.map((kind) => ({ family, kind, ...way })),
);

describe('settings along the way of one fit', () => {
  it.each(everyWay)(
    'say what separate fits do: $family, $kind',
    ({ family, kind, tried, digits }) => {
      const { description } = familyOf(family);
      expect(groupsOf(description, tried)).toEqual([tried.map((_, place) => place)]);
      const outcome = outcomes[kind];
      const recipe = { family, seed: 5 };
      const ready = readyPart(parts[0], predictors, outcome, recipe);
      const found = tryOnPart(ready, recipe, tried, byOf(kind)) as TriedOnPart[];
      tried.forEach((settings, place) => {
        const alone = fitPart(parts[0], predictors, outcome, { ...recipe, settings });
        const [one, other] = [found[place].predictions, alone.predictions].map(numbersOf);
        expect(one.length).toBe(other.length);
        one.forEach((value, i) => expect(value).toBeCloseTo(other[i], digits));
      });
      // They are not all the same, or this would show nothing.
      expect(numbersOf(found[0].predictions)).not.toEqual(numbersOf(found.at(-1)!.predictions));
    },
  );

  it('are fitted together only under the settings that allow it', () => {
    const boosted = familyOf('boosted-trees').description;
    const stopped = [10, 20].map((trees) => ({ until: 'best', trees, depth: 3 }));
    const whole = [10, 20].map((trees) => ({ until: 'all', trees, depth: 3 }));
    const deeper = { until: 'all', trees: 10, depth: 4 };
    expect(groupsOf(boosted, [...stopped, ...whole, deeper])).toEqual([[0], [1], [2, 3], [4]]);
    expect(fittedTogether(boosted, whole)).toEqual({ fitted: whole[1], along: [10, 20] });
    expect(fittedTogether(boosted, [deeper])).toEqual({ fitted: deeper });
    const none = familyOf('logistic').description;
    expect(groupsOf(none, [{ iterations: 5 }, { iterations: 6 }])).toEqual([[0], [1]]);
  });
});

describe('measures of what was tried', () => {
  const fits = (family: string, kind: string, settings: Settings = {}) =>
    parts.map((part) => fitPart(part, predictors, outcomes[kind], { family, settings, seed: 5 }));

  it.each(['event', 'levels', 'number'])('are those of the table of candidates: %s', (kind) => {
    const predictions = collectOutOfFold(folds, fits('penalised', kind));
    const judged = { outcome: outcomes[kind], predictions } as Judged;
    const { cases } = byOf(kind);
    const line = judgeOutOfFold(judged, cases, folds, { rule: 'cheapest' }, costs);
    const figures = judgeFolds(judged, folds, { cases, costs });
    expect(figures.cost.value).toBeCloseTo(line.costCrossFitted!, 10);
    expect(figures.auc.value).toBeCloseTo(line.area!.mean, 12);
    for (const [id, figure] of Object.entries(line.figures ?? {}))
      expect(figures[id].value).toBeCloseTo(figure.value!, 12);
  });

  it('have the standard error of the mean of the folds, which more times do not make smaller', () => {
    const values = Int8Array.from([1, 0, 1, 0, 1, 0]);
    const risks = Float64Array.from([0.9, 0.1, 0.6, 0.4, 0.5, 0.5]);
    const judged: Judged = {
      outcome: { kind: 'event', values },
      predictions: { kind: 'event', risks },
    };
    // Brier scores of the folds: 0.01, 0.16, 0.25; mean 0.14, SD 0.12124.
    const { brier } = judgeFolds(judged, [0, 0, 1, 1, 2, 2], by);
    expect(brier.value).toBeCloseTo(0.14, 12);
    expect(brier.error).toBeCloseTo(Math.sqrt(0.0147) / Math.sqrt(3), 12);
    const twice: Judged = {
      outcome: { kind: 'event', values: Int8Array.from([...values, ...values]) },
      predictions: { kind: 'event', risks: Float64Array.from([...risks, ...risks]) },
    };
    const again = judgeFolds(twice, [0, 0, 1, 1, 2, 2, 3, 3, 4, 4, 5, 5], by, 2).brier;
    expect(again.value).toBeCloseTo(0.14, 12);
    expect(again.error).toBeCloseTo(Math.sqrt((2 * 0.0147 * 2) / 5 / 3), 12);
  });

  it('have cost, F1, kappa and accuracy at the cheapest cutoff of the other folds, by hand', () => {
    // The second fold costs least if everybody is called in, the first if only 0.9 is: so in the first fold
    // all three are called in, one of them a case, and in the second nobody, though two are cases.
    const judged: Judged = {
      outcome: { kind: 'event', values: Int8Array.from([1, 1, 0, 0, 0, 1]) },
      predictions: {
        kind: 'event',
        risks: Float64Array.from([0.9, 0.6, 0.5, 0.2, 0.1, 0.05]),
      },
    };
    const dear = { cases: by.cases, costs: { missedCost: 1.1, falseAlarmCost: 1 } };
    const figures = judgeFolds(judged, [0, 1, 0, 1, 0, 1], dear);
    expect(figures.cost.value).toBeCloseTo((1000 * (2 + 2 * 1.1)) / 6, 10);
    expect(figures.f1.value).toBeCloseTo(1 / 3, 12);
    expect(figures.accuracy.value).toBeCloseTo(2 / 6, 12);
    expect(figures.kappa.value).toBeCloseTo(-1 / 3, 12);
  });

  it('are told of those who were learned from too, unless trees know them by heart', () => {
    const found = (family: string) => {
      const recipe = { family, seed: 5 };
      const ready = readyPart(parts[0], predictors, outcomes.event, recipe);
      return tryOnPart(ready, recipe, [{}], by) as TriedOnPart[];
    };
    const [logistic] = found('logistic');
    const learned = takeOutcome(outcomes.event, parts[0].learnRows);
    const swapped = { ...parts[0], predictRows: parts[0].learnRows };
    const own = fitPart(swapped, predictors, outcomes.event, {
      family: 'logistic',
      settings: {},
      seed: 5,
    });
    const judged = { outcome: learned, predictions: own.predictions } as Judged;
    const { brier } = judgeFolds(judged, new Uint8Array(learned.values.length), by);
    expect(logistic.development?.brier).toBeCloseTo(brier.value, 12);
    expect(found('random-forest')[0].development).toBeUndefined();
  });

  it('say why settings cannot be fitted, beside others that can', () => {
    const { values } = outcomes.event;
    const cases = rows.filter((i) => values[i] === 1).slice(0, 3);
    const learnRows = Int32Array.from([...cases, ...rows.filter((i) => values[i] === 0)]);
    const recipe = { family: 'discriminants', seed: 5 };
    const few = { name: 'fold 1', learnRows, predictRows: cases };
    const ready = readyPart(few, predictors, outcomes.event, recipe);
    const found = (pooled: number) =>
      tryOnPart(ready, recipe, [{ shape: 'quadratic', pooled }], by);
    expect(found(0)).toEqual({ problem: expect.stringContaining('The 3 patients with') as string });
    expect(found(1)).toHaveLength(1);
  });

  it('have each patient’s own costs where they have such', () => {
    const recipe = { family: 'logistic', seed: 5 };
    const ready = readyPart(parts[0], predictors, outcomes.event, recipe);
    const own = {
      missed: Float64Array.from(rows, () => 40),
      falseAlarm: Float64Array.from(rows, () => 10),
    };
    const [plain, ten] = [by, { ...by, costs: { ...costs, own } }].map(
      (judgedBy) => (tryOnPart(ready, recipe, [{}], judgedBy) as TriedOnPart[])[0].development!,
    );
    expect(ten.cost).toBeCloseTo(10 * plain.cost, 9);
  });
});
