import { describe, expect, it } from 'vitest';
import { facetOf, learnRiskMap, movedRisk, type HowMoved } from '../../src/families/index.ts';
import { recalibration } from '../../src/measures/index.ts';
import { packModel, scoreRows, unpackModel } from '../../src/model/index.ts';
import { risingBlocks } from '../../src/numeric/index.ts';
import { predictionsOf, type Outcome } from '../../src/outcome/index.ts';
import {
  collectOutOfFold,
  fitPart,
  planParts,
  type FitPartResult,
  type FitRecipe,
} from '../../src/tuning/index.ts';
import { birthWeightRisks } from '../measures/birth-weight-risks.ts';
import { loadValues } from '../reference/load.ts';
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

const meanOf = (values: ArrayLike<number>) =>
  Array.from(values).reduce((sum, one) => sum + one, 0) / values.length;

describe('values that never fall', () => {
  const valuesOf = (blocks: ReturnType<typeof risingBlocks>) =>
    blocks.flatMap(({ from, to, mean }) => Array.from({ length: to - from }, () => mean));

  it('are means of neighbours that fell', () => {
    expect(risingBlocks([1, 3, 2, 4])).toEqual([
      { from: 0, to: 1, mean: 1 },
      { from: 1, to: 3, mean: 2.5 },
      { from: 3, to: 4, mean: 4 },
    ]);
    expect(valuesOf(risingBlocks([3, 2, 1]))).toEqual([2, 2, 2]);
    expect(risingBlocks([2, 1], [1, 3])).toEqual([{ from: 0, to: 2, mean: 1.25 }]);
  });

  it('have the least squared distance of all that never fall', () => {
    for (let round = 0; round < 20; round++) {
      const values = Array.from({ length: 6 }, () => Math.round(4 * draw.uniform()));
      const found = valuesOf(risingBlocks(values));
      const lossOf = (some: number[]) =>
        some.reduce((sum, one, i) => sum + (one - values[i]) ** 2, 0);
      for (let i = 1; i < 6; i++) expect(found[i]).toBeGreaterThanOrEqual(found[i - 1]);
      // Every rising sequence of quarters from 0 to 4.
      const least = (i: number, from: number, loss: number): number => {
        if (i === 6) return loss;
        let best = Infinity;
        for (let own = from; own <= 16; own++)
          best = Math.min(best, least(i + 1, own, loss + (own / 4 - values[i]) ** 2));
        return best;
      };
      expect(lossOf(found)).toBeLessThanOrEqual(least(0, 0, 0) + 1e-12);
    }
  });
});

describe.each([
  ['in the patients learned from', false, 'in_sample'],
  ['in the other half', true, 'split_sample'],
] as const)('a map of the risks of low birth weight, %s', (_, half, sample) => {
  const { risks, events } = birthWeightRisks(half);
  const expected =
    loadValues<
      Record<typeof sample, { isotonic: { first10: number[]; brier: number; n_levels: number } }>
    >('calibration_birthwt')[sample].isotonic;
  const mapped = (how: HowMoved) => {
    const map = learnRiskMap(how, risks, events)!;
    return risks.map((risk) => movedRisk(map, risk));
  };

  it('that is isotonic is that of a general-purpose library, but where it says 0', () => {
    const order = Array.from(risks.keys()).sort((one, other) => risks[one] - risks[other]);
    const raw = new Float64Array(risks.length);
    const blocks = risingBlocks(order.map((i) => events[i]));
    for (const { from, to, mean } of blocks) order.slice(from, to).forEach((i) => (raw[i] = mean));
    expect(blocks).toHaveLength(expected.n_levels);
    expected.first10.forEach((share, i) => expect(raw[i]).toBeCloseTo(share, 10));
    expect(meanOf(raw.map((risk, i) => (risk - events[i]) ** 2))).toBeCloseTo(expected.brier, 10);
    // Where it says 0 or 1 of n patients, one case and one other more are counted, kept in order.
    const lowest = blocks[0].to - blocks[0].from;
    expect(blocks[0].mean).toBe(0);
    mapped('isotonic').forEach((share, i) => {
      if (raw[i] === 0) expect(share).toBe(Math.min(1 / (lowest + 2), blocks[1].mean));
      else if (raw[i] === 1) expect(share).toBeLessThan(1);
      else expect(share).toBeCloseTo(raw[i], 12);
    });
  });

  it('that is a line has intercept and slope of the calibration', () => {
    const { large, constant, slope } = recalibration(risks, events)!;
    const odds = (risk: number) => Math.log(risk / (1 - risk));
    mapped('line').forEach((risk, i) =>
      expect(odds(risk)).toBeCloseTo(constant.value + slope.value * odds(risks[i]), 10),
    );
    mapped('intercept').forEach((risk, i) =>
      expect(odds(risk)).toBeCloseTo(large.value + odds(risks[i]), 10),
    );
  });

  it.each(['intercept', 'line', 'isotonic'] as const)('by %s keeps order', (how) => {
    const moved = mapped(how);
    const order = Array.from(risks.keys()).sort((a, b) => risks[a] - risks[b]);
    for (let i = 1; i < order.length; i++)
      expect(moved[order[i]]).toBeGreaterThanOrEqual(moved[order[i - 1]]);
    // The mean risk is the share of cases, but for the ends of the isotonic map.
    expect(meanOf(moved)).toBeCloseTo(meanOf(events), how === 'isotonic' ? 1 : 9);
  });
});

describe('a map of risks', () => {
  it('takes risks of 0 and 1 as nearly that, and says neither', () => {
    const risks = [0, 0, 0, 0.5, 0.5, 1, 1, 1];
    const events = [0, 0, 1, 0, 1, 1, 1, 0];
    for (const how of ['intercept', 'line', 'isotonic'] as const) {
      const map = learnRiskMap(how, risks, events)!;
      for (const risk of [0, 0.2, 0.5, 1]) {
        expect(movedRisk(map, risk)).toBeGreaterThan(0);
        expect(movedRisk(map, risk)).toBeLessThan(1);
      }
      expect(movedRisk(map, 0.2)).toBeGreaterThanOrEqual(movedRisk(map, 0));
    }
  });

  it('of an isotonic kind is straight between two patients, and level beyond the last', () => {
    const map = learnRiskMap('isotonic', [0.1, 0.1, 0.3, 0.3], [0, 1, 1, 1])!;
    expect(movedRisk(map, 0.05)).toBe(0.5);
    expect(movedRisk(map, 0.2)).toBeCloseTo((0.5 + 0.75) / 2, 12);
    expect(movedRisk(map, 0.9)).toBe(0.75);
  });

  it('never turns the order round: of risks that are wrong way round all become the same', () => {
    const risks = [0.1, 0.2, 0.3, 0.7, 0.8, 0.9];
    const events = [1, 0, 1, 0, 1, 0];
    for (const how of ['line', 'isotonic'] as const) {
      const map = learnRiskMap(how, risks, events)!;
      for (const risk of risks) expect(movedRisk(map, risk)).toBeCloseTo(0.5, 9);
    }
  });

  it('is not learned from patients of one outcome', () => {
    expect(learnRiskMap('line', [0.1, 0.2], [0, 0])).toBeUndefined();
    expect(learnRiskMap('isotonic', [0.1, 0.2], [1, 1])).toBeUndefined();
  });
});

const names = predictors.map(({ name }) => name);
/** A tree that is far too sure of itself. */
const tree: FitRecipe = {
  family: 'decision-tree',
  settings: { size: 'all', leastLeaf: 4 },
  seed: 4,
};
const recipeOf = (how: HowMoved): FitRecipe => ({
  family: 'recalibrated',
  settings: { how },
  seed: 4,
  parts: [{ name: 'Tree 2', predictors: names, recipe: tree }],
});
const outOfFold = (results: FitPartResult[]) =>
  predictionsOf(collectOutOfFold(folds, results), 'event').risks;

describe.each(['intercept', 'line', 'isotonic'] as const)('recalibrated by %s', (how) => {
  const outcome = outcomes.event as Outcome & { kind: 'event' };
  const plain = fitAll(outcome, tree);
  const results = fitAll(outcome, recipeOf(how));
  const truth = Array.from(rows, (row) => outcome.values[row]);
  const whole = predictionsOf(wholeOf(results).predictions, 'event').risks;

  it('moves what the candidate says by a map that was learned out of fold', () => {
    const map = learnRiskMap(how, outOfFold(plain), truth)!;
    predictionsOf(wholeOf(plain).predictions, 'event').risks.forEach((risk, i) =>
      expect(whole[i]).toBeCloseTo(movedRisk(map, risk), 12),
    );
    const { before, after, patients, points } = facetOf(wholeOf(results).facets, 'recalibration')!;
    expect(patients).toBe(rows.length);
    expect(before.told).toBeCloseTo(meanOf(outOfFold(plain)), 12);
    // Judged in other patients than the map was learned from, so that it looks no better than it is.
    const brier = (risks: number[]) => meanOf(truth.map((one, i) => (risks[i] - one) ** 2));
    const own = brier(Array.from(outOfFold(plain), (risk) => movedRisk(map, risk)));
    expect(after.brier).toBeGreaterThan(own);
    expect(after.brier).toBeLessThan(before.brier + 0.01);
    for (const [risk, moved] of points) expect(moved).toBeCloseTo(movedRisk(map, risk), 12);
  });

  it('is nearer to what happens out of fold than a candidate that is too sure', () => {
    const brier = (risks: ArrayLike<number>) =>
      meanOf(truth.map((one, i) => (risks[i] - one) ** 2));
    const [was, is] = [brier(outOfFold(plain)), brier(outOfFold(results))];
    // An intercept mends no risks that are too extreme, and an isotonic map learns much from few.
    expect(is).toBeLessThan(how === 'line' ? was : was + 0.01);
  });

  it('reads no outcome of those whom it predicts', () => {
    const turn = (which: (row: number) => boolean): Outcome => ({
      ...outcome,
      values: outcome.values.map((value, row) => (which(row) ? 1 - value : value)),
    });
    const held = fitAll(
      turn((row) => row >= rows.length),
      recipeOf(how),
    );
    expect(wholeOf(held).predictions).toEqual(wholeOf(results).predictions);
    expect(wholeOf(held).model).toEqual(wholeOf(results).model);
    const first = (all: FitPartResult[]) => all.find(({ name }) => name === 'fold 1')!.predictions;
    expect(
      first(
        fitAll(
          turn((row) => folds[row] === 0),
          recipeOf(how),
        ),
      ),
    ).toEqual(first(results));
  });

  it('says the same after it was kept', () => {
    const { preparation, model: saved } = wholeOf(results);
    const family = { id: 'recalibrated', settings: { how }, saved };
    const kept = unpackModel(structuredClone(packModel({ ...modelOf, preparation, family })));
    const { predictions } = scoreRows(kept, predictors, count);
    expect(predictionsOf(predictions, 'event').risks.slice(rows.length)).toEqual(whole);
  });
});

describe('what is recalibrated', () => {
  it('is left as it is where it makes no error, and says so', () => {
    const [first] = predictors;
    const values = Int8Array.from({ length: count }, (_, i) => i % 2);
    const told = {
      ...first,
      name: 'told',
      type: 'number' as const,
      values: Float64Array.from(values),
    };
    const part = { name: 'Tree 2', predictors: ['told'], recipe: tree };
    const all = fitAll({ kind: 'event', values }, { ...recipeOf('line'), parts: [part] }, [told]);
    const alone = fitAll({ kind: 'event', values }, tree, [told]);
    const { warnings, predictions } = wholeOf(all);
    expect(warnings.map(({ sentence }) => sentence)).toContainEqual(
      expect.stringContaining('its risks are left as they are'),
    );
    expect(predictions).toEqual(wholeOf(alone).predictions);
  });

  it('needs three folds, and says so', () => {
    const two = planParts(
      rows,
      folds.map((fold) => fold % 2),
      aside,
    );
    expect(() => fitPart(two[0], predictors, outcomes.event, recipeOf('line'))).toThrow(
      'Deal three folds or more in Design',
    );
  });
});
