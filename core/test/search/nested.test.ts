import { describe, expect, it } from 'vitest';
import type { Settings } from '../../src/families/index.ts';
import { areaUnderCurve } from '../../src/measures/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import {
  emptyLike,
  numbersOf,
  predictionsOf,
  type Outcome,
  type Predictions,
} from '../../src/outcome/index.ts';
import type { PredictorColumn } from '../../src/preparation/index.ts';
import { nestedChoice, searchMeasures, type JudgedBy } from '../../src/search/index.ts';
import { fitPart } from '../../src/tuning/index.ts';

const by: JudgedBy = { cases: { kind: 'event' }, costs: { missedCost: 3, falseAlarmCost: 1 } };
const measureOf = (id: string) => searchMeasures.event.find((measure) => measure.id === id)!;

/** Made-up patients: how many tell is chosen by the caller. */
function patients(count: number, tells: number, seed: number) {
  const draw = randomStream(seed, 'nested');
  const predictors = Array.from({ length: 4 }, (_, j): PredictorColumn => ({
    name: `lab ${j}`,
    type: 'number',
    values: Float64Array.from({ length: count }, () => draw.normal()),
  }));
  const valueOf = (j: number, i: number) => (predictors[j] as { values: Float64Array }).values[i];
  const values = Int8Array.from({ length: count }, (_, i) =>
    Number(tells * (valueOf(0, i) + valueOf(1, i)) + draw.normal() > 0.5),
  );
  const outcome: Outcome = { kind: 'event', values };
  const rows = Int32Array.from({ length: count }, (_, i) => i);
  const folds = Uint8Array.from(rows, (i) => i % 4);
  return { predictors, outcome, rows, folds };
}

/** Every fit that nesting needs, one by one. */
function fitted(
  { predictors, outcome, rows, folds }: ReturnType<typeof patients>,
  tried: Settings[],
) {
  const said = (settings: Settings, without: number[], of: number, into?: Predictions) => {
    const predictRows = rows.filter((i) => folds[i] === of);
    const { predictions } = fitPart(
      { name: 'nested', learnRows: rows.filter((i) => !without.includes(folds[i])), predictRows },
      predictors,
      outcome,
      { family: 'decision-tree', settings, seed: 2 },
    );
    const whole = into ?? emptyLike(predictions, rows.length);
    predictRows.forEach((row, k) => (numbersOf(whole)[row] = numbersOf(predictions)[k]));
    return whole;
  };
  const all = [0, 1, 2, 3];
  const outer = tried.map((settings) =>
    all.reduce<Predictions | undefined>((so, fold) => said(settings, [fold], fold, so), undefined)!,
  );
  const inner = all.map((out) =>
    tried.map((settings) =>
      all
        .filter((fold) => fold !== out)
        .reduce<Predictions | undefined>(
          (so, fold) => said(settings, [out, fold], fold, so),
          undefined,
        )!,
    ),
  );
  return { outcome, folds, by, outer, inner };
}

const tried: Settings[] = [1, 2, 4, 9].map((leaves) => ({ size: 'leaves', leaves, leastLeaf: 3 }));

describe('nested cross-validation', () => {
  const some = patients(160, 1.2, 5);
  const task = fitted(some, tried);
  const { folds } = some;
  const { values } = some.outcome;
  const risksOf = (predictions: Predictions) => predictionsOf(predictions, 'event').risks;
  const at = (isIn: (fold: number) => boolean) =>
    Array.from(folds.keys()).filter((i) => isIn(folds[i]));
  const areaAt = (risks: Float64Array, places: number[]) =>
    areaUnderCurve(
      places.map((i) => risks[i]),
      places.map((i) => values[i]),
    )!.value;

  it('chooses in each fold by the others alone, and judges on it: AUC by hand', () => {
    const found = nestedChoice(task, measureOf('auc'))!;
    const byHand = [0, 1, 2, 3].map((out) => {
      // The mean of the inner folds, as the table of candidates has it.
      const inner = task.inner[out].map((predictions) => {
        const each = [0, 1, 2, 3]
          .filter((fold) => fold !== out)
          .map((fold) =>
            areaAt(
              risksOf(predictions),
              at((one) => one === fold),
            ),
          );
        return each.reduce((sum, one) => sum + one, 0) / each.length;
      });
      const best = inner.indexOf(Math.max(...inner));
      return {
        best,
        value: areaAt(
          risksOf(task.outer[best]),
          at((one) => one === out),
        ),
      };
    });
    expect(found.chosen).toEqual(byHand.map(({ best }) => best));
    const mean = byHand.reduce((sum, { value }) => sum + value, 0) / 4;
    expect(found.value).toBeCloseTo(mean, 12);
    const squares = byHand.reduce((sum, { value }) => sum + (value - mean) ** 2, 0);
    expect(found.error!).toBeCloseTo(Math.sqrt(squares / 3 / 4), 12);
  });

  it('takes the cutoff from the others too: cost by hand', () => {
    const found = nestedChoice(task, measureOf('cost'))!;
    const costOf = (risks: Float64Array, places: number[], cutoff: number) =>
      places.reduce((sum, i) => sum + (risks[i] >= cutoff ? 1 - values[i] : 3 * values[i]), 0);
    const values4 = [0, 1, 2, 3].map((out) => {
      const others = at((one) => one !== out);
      const risks = risksOf(task.inner[out][found.chosen[out]]);
      const cutoffs = [...others.map((i) => risks[i]), 1.001];
      const costs = cutoffs.map((cutoff) => costOf(risks, others, cutoff));
      const least = Math.min(...costs);
      // Any of the cheapest cutoffs may be taken.
      const own = at((one) => one === out);
      const outer = risksOf(task.outer[found.chosen[out]]);
      return cutoffs
        .filter((_, k) => costs[k] === least)
        .map((cutoff) => (1000 * costOf(outer, own, cutoff)) / own.length);
    });
    const [low, high] = [Math.min, Math.max].map(
      (of) => values4.reduce((sum, one) => sum + of(...one), 0) / 4,
    );
    expect(found.value).toBeGreaterThanOrEqual(low - 1e-9);
    expect(found.value).toBeLessThanOrEqual(high + 1e-9);
  });

  it('does not see who is in the fold that it judges', () => {
    const turned = values.slice();
    for (const i of at((fold) => fold === 2)) turned[i] = 1 - turned[i];
    const other = { ...task, outcome: { kind: 'event' as const, values: turned } };
    const [one, two] = [task, other].map((each) => nestedChoice(each, measureOf('auc'))!);
    expect(two.chosen[2]).toBe(one.chosen[2]);
    expect(two.value).not.toBe(one.value);
  });

  it('is about a half where nothing tells, whatever is tried', () => {
    const areas = Array.from(
      { length: 8 },
      (_, seed) =>
        nestedChoice(fitted(patients(100, 0, seed + 40), tried), measureOf('auc'))!.value,
    );
    const mean = areas.reduce((sum, one) => sum + one, 0) / areas.length;
    expect(Math.abs(mean - 0.5)).toBeLessThan(0.06);
  });
});
