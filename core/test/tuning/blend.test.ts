import { describe, expect, it } from 'vitest';
import { facetOf, leastSquaresWeights, type Settings } from '../../src/families/index.ts';
import { packModel, scoreRows, unpackModel } from '../../src/model/index.ts';
import { numbersOf, predictionsOf, type Outcome } from '../../src/outcome/index.ts';
import type { PredictorColumn } from '../../src/preparation/index.ts';
import {
  collectOutOfFold,
  fitPart,
  planParts,
  type FitPartResult,
  type FitRecipe,
} from '../../src/tuning/index.ts';
import {
  aside,
  count,
  draw,
  fitAll,
  folds,
  modelOf,
  outcomes,
  predictors,
  rows,
  wholeOf,
} from './made-up-patients.ts';

const names = predictors.map(({ name }) => name);

const straight: Record<Outcome['kind'], string> = {
  event: 'logistic',
  levels: 'multinomial',
  number: 'linear',
};

/** A straight model of three predictors beside a tree of all. */
function recipeOf(kind: Outcome['kind'], settings: Settings = { weights: 'learned' }) {
  const part = (family: string, own: string[]) => ({
    name: `${family} of mine`,
    predictors: own,
    recipe: { family, settings: {}, seed: 4 } as FitRecipe,
  });
  const parts = [part(straight[kind], names.slice(0, 3)), part('decision-tree', names)];
  return { family: 'blend', settings, seed: 4, parts } satisfies FitRecipe;
}

const truthOf = (outcome: Outcome, of: Int32Array) =>
  Array.from(of).flatMap((row) =>
    outcome.kind === 'levels'
      ? outcome.levels.map((_, code) => Number(outcome.values[row] === code))
      : [outcome.values[row]],
  );

const squaredError = (said: ArrayLike<number>, truth: number[]) =>
  truth.reduce((sum, value, i) => sum + (said[i] - value) ** 2, 0) / truth.length;

describe('weights of a blend', () => {
  it('are none below zero, one together, and no others come to less', () => {
    for (let round = 0; round < 30; round++) {
      const truth = Float64Array.from({ length: 40 }, () => draw.normal());
      const said = Array.from({ length: 3 }, (_, k) =>
        truth.map((value) => value * draw.uniform() + (0.3 + 0.4 * k) * draw.normal()),
      );
      const lossAt = (weights: number[]) =>
        squaredError(
          truth.map((_, i) => weights.reduce((sum, weight, k) => sum + weight * said[k][i], 0)),
          Array.from(truth),
        );
      const weights = leastSquaresWeights(said, truth);
      expect(Math.min(...weights)).toBeGreaterThanOrEqual(0);
      expect(weights.reduce((sum, one) => sum + one, 0)).toBeCloseTo(1, 12);
      const least = lossAt(weights);
      for (let a = 0; a <= 50; a++)
        for (let b = 0; a + b <= 50; b++)
          expect(lossAt([a / 50, b / 50, 1 - (a + b) / 50])).toBeGreaterThan(least - 1e-12);
    }
  });

  it('are those of two parts by hand', () => {
    // (1, 1) and (0, 2) for (0, 0): errors' products are 2, 2 and 4, so that the first alone is best.
    const [one, other] = [Float64Array.of(1, 1), Float64Array.of(0, 2)];
    expect(leastSquaresWeights([one, other], new Float64Array(2))).toEqual([1, 0]);
    // Errors (1, 0) and (0, 2): 4 to 1.
    const weights = leastSquaresWeights(
      [Float64Array.of(1, 0), Float64Array.of(0, 2)],
      new Float64Array(2),
    );
    expect(weights[0]).toBeCloseTo(0.8, 12);
    expect(weights[1]).toBeCloseTo(0.2, 12);
  });

  it('of parts that say the same go to the first', () => {
    const same = Float64Array.of(0.2, 0.9, 0.4);
    expect(leastSquaresWeights([same, same.slice()], Float64Array.of(0, 1, 1))).toEqual([1, 0]);
  });
});

describe.each(['event', 'levels', 'number'] as const)('a blend that predicts %s', (kind) => {
  const outcome = outcomes[kind];
  const recipe = recipeOf(kind);
  const results = fitAll(outcome, recipe);
  const shown = facetOf(wholeOf(results).facets, 'blend')!;
  const outOfFold = (of: FitPartResult[]) => numbersOf(collectOutOfFold(folds, of));
  const alone = recipe.parts.map((part) =>
    fitAll(
      outcome,
      part.recipe,
      predictors.filter(({ name }) => part.predictors.includes(name)),
    ),
  );

  it('says the weighted sum of what its parts say as candidates of their own', () => {
    const parts = alone.map((one) => numbersOf(wholeOf(one).predictions));
    const together = numbersOf(wholeOf(results).predictions);
    const [a, b] = shown.parts.map(({ weight }) => weight);
    together.forEach((value, i) =>
      expect(value).toBeCloseTo(a * parts[0][i] + b * parts[1][i], 10),
    );
  });

  it('learns the weights from what its parts say out of fold', () => {
    const said = alone.map(outOfFold);
    const truth = truthOf(outcome, rows);
    const perRow = truth.length / rows.length;
    // In the order of the folds, as the parts were left out.
    const weights = leastSquaresWeights(said, Float64Array.from(truth));
    shown.parts.forEach(({ weight, alone: loss }, k) => {
      expect(weight).toBeCloseTo(weights[k], 10);
      expect(loss).toBeCloseTo(squaredError(said[k], truth) * perRow, 10);
    });
    expect(shown.patients).toBe(rows.length);
    expect(shown.together).toBeLessThanOrEqual(Math.min(...shown.parts.map((one) => one.alone!)));
  });

  it('is about as good out of fold as its best part, or better', () => {
    const truth = truthOf(outcome, rows);
    const best = Math.min(...alone.map((one) => squaredError(outOfFold(one), truth)));
    // Weights are learned inside each fold, and vary with it: a few per cent may be lost.
    expect(squaredError(outOfFold(results), truth)).toBeLessThanOrEqual(1.03 * best);
  });

  it('gives nobody whom it predicts a say in its weights', () => {
    // Whoever is in the first fold gets another outcome: what is said of them stays.
    const turned = {
      ...outcome,
      values: outcome.values.map((value, i) =>
        i < 240 && folds[i] === 0 ? (kind === 'number' ? value + 7 : value === 1 ? 0 : 1) : value,
      ),
    } as Outcome;
    const other = fitAll(turned, recipe).find(({ name }) => name === 'fold 1')!;
    expect(other.predictions).toEqual(results.find(({ name }) => name === 'fold 1')!.predictions);
  });

  it('is the same after it was kept, a level that nobody had among those it scores', () => {
    const { preparation, model: saved } = wholeOf(results);
    const kept = unpackModel(
      structuredClone(packModel({ ...modelOf, preparation, family: { ...modelOf.family, saved } })),
    );
    const columns = predictors.map((one): PredictorColumn =>
      one.type === 'coded' ? { ...one, levels: [...one.levels, 'new'] } : one,
    );
    const { predictions } = scoreRows(kept, columns, count);
    const width = numbersOf(predictions).length / count;
    expect(numbersOf(predictions).slice(240 * width)).toEqual(
      numbersOf(wholeOf(results).predictions),
    );
  });
});

describe('a blend', () => {
  it('of equal weights is the average, with nothing learned', () => {
    const results = fitAll(outcomes.event, recipeOf('event', { weights: 'equal' }));
    const shown = facetOf(wholeOf(results).facets, 'blend')!;
    expect(shown.parts.map(({ weight }) => weight)).toEqual([0.5, 0.5]);
    expect(shown.together).toBeUndefined();
  });

  it('cannot learn weights from two folds, and says so', () => {
    const two = planParts(
      rows,
      folds.map((fold) => fold % 2),
      aside,
    );
    expect(() => fitPart(two[0], predictors, outcomes.event, recipeOf('event'))).toThrow(
      'Deal three folds or more in Design',
    );
  });

  it('counts trees and leaves of its parts, and says of which part a warning is', () => {
    const { size, scoreTime, warnings } = wholeOf(
      fitAll(outcomes.event, {
        ...recipeOf('event'),
        parts: [
          ...recipeOf('event').parts,
          {
            name: 'Forest',
            predictors: ['first'],
            recipe: { family: 'random-forest', settings: { trees: 10 }, seed: 1 },
          },
          {
            name: 'Nothing',
            predictors: [],
            recipe: { family: 'decision-tree', settings: {}, seed: 1 },
          },
        ],
      }),
    );
    expect(size).toMatchObject({ trees: 10 });
    expect(size!.leaves).toBeGreaterThan(20);
    expect(scoreTime).toBeGreaterThan(0);
    expect(warnings.map(({ sentence }) => sentence)).toContainEqual(
      expect.stringContaining('Nothing: '),
    );
  });

  it('keeps risks between 0 and 1', () => {
    const { risks } = predictionsOf(
      wholeOf(fitAll(outcomes.event, recipeOf('event'))).predictions,
      'event',
    );
    expect(Math.min(...risks)).toBeGreaterThanOrEqual(0);
    expect(Math.max(...risks)).toBeLessThanOrEqual(1);
  });
});
