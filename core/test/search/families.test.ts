import { describe, expect, it } from 'vitest';
import { familyDescriptions, type Settings } from '../../src/families/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { numbersOf, type Outcome } from '../../src/outcome/index.ts';
import type { PredictorColumn } from '../../src/preparation/index.ts';
import { readyPart, tryOnPart, type TriedOnPart } from '../../src/search/index.ts';
import { fitPart, type FitRecipe } from '../../src/tuning/index.ts';

const patients = 140;
const draw = randomStream(17, 'patients of every family');
const rows = Int32Array.from({ length: patients }, (_, i) => i);
const urea = Float64Array.from(rows, () => 5 + 2 * draw.normal());
const age = Float64Array.from(rows, () => 60 + 10 * draw.normal());
const ward = Int32Array.from(rows, () => Math.floor(3 * draw.uniform()));
const score = Array.from(rows, (i) => urea[i] - 5 + 0.8 * ward[i] + 1.5 * draw.normal());
// Some lack one number, some another; nobody's ward is unknown.
const withGaps = (values: Float64Array, every: number) =>
  values.map((value, i) => (i % every === 0 ? NaN : value));
const predictors: PredictorColumn[] = [
  { name: 'urea', type: 'number', values: withGaps(urea, 9) },
  { name: 'age', type: 'number', values: withGaps(age, 11) },
  { name: 'ward', type: 'coded', codes: ward, levels: ['A', 'B', 'C'] },
];
const outcomes: Record<string, Outcome> = {
  event: { kind: 'event', values: Int8Array.from(score, (one) => Number(one > 1.5)) },
  levels: {
    kind: 'levels',
    levels: ['none', 'mild', 'severe'],
    ordered: true,
    values: Int32Array.from(score, (one) => Number(one > 0.3) + Number(one > 2.2)),
  },
  number: { kind: 'number', values: Float64Array.from(score) },
};
const part = {
  name: 'fold 1',
  learnRows: rows.filter((row) => row % 4 !== 0),
  predictRows: rows.filter((row) => row % 4 === 0),
};
const by = {
  cases: { kind: 'event' as const },
  costs: { missedCost: 4, falseAlarmCost: 1 },
};
const byOf = {
  event: by,
  levels: { ...by, cases: { kind: 'levels' as const, levels: ['severe'] } },
  number: { ...by, cases: { kind: 'number' as const, value: 2, side: 'from' as const } },
};

/** What a search says of settings, beside what a fit of its own does. */
function both(kind: keyof typeof byOf, recipe: Omit<FitRecipe, 'settings'>, group: Settings[]) {
  const outcome = outcomes[kind];
  const ready = readyPart(part, predictors, outcome, recipe);
  const found = tryOnPart(ready, recipe, group, byOf[kind]) as TriedOnPart[];
  return group.map((settings, place) => ({
    tried: numbersOf(found[place].predictions),
    alone: numbersOf(fitPart(part, predictors, outcome, { ...recipe, settings }).predictions),
    development: found[place].development,
  }));
}

const searchable = familyDescriptions
  .filter(({ fixed, composed }) => !fixed && !composed)
  .flatMap(({ id, outcomes: kinds }) => kinds.map((kind) => ({ family: id, kind })));

describe('every family in a search', () => {
  it.each(searchable)('says what a fit with the same settings does: $family, $kind', (one) => {
    const { family, kind } = one;
    const [{ tried, alone, development }] = both(kind, { family, seed: 3 }, [{}]);
    expect(tried).toEqual(alone);
    const { drawsPatients } = familyDescriptions.find(({ id }) => id === family)!;
    if (drawsPatients) expect(development).toBeUndefined();
    else expect(Object.values(development!).every(Number.isFinite)).toBe(true);
  });

  it.each(['random-forest', 'nearest-patients', 'boosted-trees'])(
    'says so with balanced patients, whose risks are brought back: %s',
    (family) => {
      const recipe = { family, seed: 3, balancing: { way: 'weights' as const, share: 0.5 } };
      const settings: Record<string, Settings[]> = {
        'random-forest': [{ trees: 5 }, { trees: 20 }],
        'nearest-patients': [
          { neighboursBy: 'given', neighbours: 3 },
          { neighboursBy: 'given', neighbours: 17 },
        ],
        'boosted-trees': [
          { until: 'all', trees: 5 },
          { until: 'all', trees: 20 },
        ],
      };
      for (const { tried, alone } of both('event', recipe, settings[family]))
        tried.forEach((risk, i) => expect(risk).toBeCloseTo(alone[i], 12));
      const plain = both('event', { family, seed: 3 }, settings[family]);
      const weighed = both('event', recipe, settings[family]);
      expect(weighed[1].tried).not.toEqual(plain[1].tried);
    },
  );

  it.each(['plain', 'distance', 'kernel'])(
    'asks the nearest patients once for all numbers of them: votes %s',
    (votes) => {
      const group = [2, 40, 1, 9, 500].map((neighbours) => ({
        neighboursBy: 'given',
        neighbours,
        votes,
      }));
      for (const kind of ['event', 'levels', 'number'] as const)
        for (const { tried, alone } of both(kind, { family: 'nearest-patients', seed: 3 }, group))
          tried.forEach((value, i) => expect(value).toBeCloseTo(alone[i], 12));
    },
  );

  it('takes a preparation that was learned before', () => {
    const plain = readyPart(part, predictors, outcomes.event, { family: 'logistic', seed: 3 });
    const known = plain.ground.preparation;
    const again = readyPart(
      part,
      predictors,
      outcomes.event,
      { family: 'logistic', seed: 3 },
      known,
    );
    expect(again.ground.preparation).toBe(known);
    expect(again.met).toEqual(plain.met);
    expect(again.ground.inputs).toEqual(plain.ground.inputs);
  });

  it('judges at most 20,000 of those it learned from, taken evenly', () => {
    const many = 30_000;
    const values = Float64Array.from({ length: many }, (_, i) => (i * 7919) % 1000);
    const all = Int32Array.from({ length: many }, (_, i) => i);
    const ready = readyPart(
      { name: 'fold 1', learnRows: all, predictRows: all.subarray(0, 10) },
      [{ name: 'lab', type: 'number', values }],
      {
        kind: 'event',
        values: Int8Array.from(values, (value, i) => Number(value + (i % 300) > 700)),
      },
      { family: 'logistic', seed: 1 },
    );
    const { judged, ground } = ready;
    expect(judged.rows).toHaveLength(20_000);
    expect(judged.inputs.rowCount).toBe(20_000);
    expect(new Set(judged.rows).size).toBe(20_000);
    expect(judged.rows.at(-1)).toBeGreaterThan(29_990);
    expect(judged.inputs.columns[0][1234]).toBe(ground.inputs.columns[0][judged.rows[1234]]);
  });
});
