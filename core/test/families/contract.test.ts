import { packArrays, unpackArrays } from '../../src/stored/index.ts';
import { describe, expect, it } from 'vitest';
import {
  facetOf,
  families,
  familyDescriptions,
  familyOf,
  settingsSchema,
  type Family,
  type Settings,
} from '../../src/families/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import {
  numbersOf,
  takeOutcome,
  widthOf,
  type Outcome,
  type OutcomeKind,
} from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import { defaultsOf } from './fit-event.ts';
import { everyFit, fittedAlone } from './variants.ts';

const patients = 240;
const draw = randomStream(3, 'family contract');
const columns = Array.from({ length: 4 }, () =>
  Float64Array.from({ length: patients }, () => draw.normal()),
);
const prepared: Inputs = { rowCount: patients, names: ['a', 'b', 'c', 'd'], columns };
/** Follows the first two inputs, with as much chance again. */
const linear = Float64Array.from(
  columns[0],
  (value, i) => value + 0.5 * columns[1][i] + 1.5 * draw.normal(),
);
const outcomes: { [K in OutcomeKind]: Outcome<K> } = {
  event: { kind: 'event', values: Int8Array.from(linear, (value) => Number(value > 0.8)) },
  levels: {
    kind: 'levels',
    values: Int32Array.from(linear, (value) => (value > 1.2 ? 2 : value > 0 ? 1 : 0)),
    levels: ['none', 'mild', 'severe'],
    ordered: true,
  },
  number: { kind: 'number', values: linear.map((value) => 90 + 20 * value) },
};

/** What a family is fitted on: prepared inputs, or the one column that a rule gives. */
function inputsOf({ description }: Family, kind: OutcomeKind): Inputs {
  if (!description.fixed) return prepared;
  const names = { event: ['no', 'yes'], levels: ['severe', 'mild', 'none'], number: undefined };
  const levels = names[kind];
  const said = levels
    ? linear.map((value) => (value > 1 ? 0 : 1) % levels.length)
    : linear.map((value) => 80 + 30 * value);
  said[5] = NaN;
  return { rowCount: patients, names: ['rule'], columns: [said], levels: [levels] };
}

function pick(from: Inputs, rows: number[]): Inputs {
  return {
    ...from,
    rowCount: rows.length,
    columns: from.columns.map((column) => Float64Array.from(rows, (row) => column[row])),
  };
}

const fitWith =
  (settings: Settings) => (family: Family, on: Inputs, outcome: Outcome, weights?: Float64Array) =>
    family.fit(on, outcome, { ...defaultsOf(family), ...settings }, { seed: 1, weights });

/** The largest difference between two lists of numbers. */
const apart = (a: Float64Array, b: Float64Array) =>
  a.reduce((most, value, i) => Math.max(most, Math.abs(value - b[i])), 0);

describe('every family', () => {
  it('is described and computed: both lists name the same', () => {
    expect(families.map(({ description }) => description)).toEqual(familyDescriptions);
  });

  it.each(fittedAlone.map((family) => [family.description.name, family] as const))(
    '%s is found by its id, and says of itself what the interface needs',
    (_name, family) => {
      const { id, about, settings, outcomes: kinds } = family.description;
      expect(familyOf(id)).toBe(family);
      expect(about).toMatch(/^[A-Z].*\.$/);
      expect(kinds.length).toBeGreaterThan(0);
      for (const field of settings) {
        expect(field.label).toMatch(/^[A-Z]/);
        expect(field.help).toMatch(/\.$/);
      }
    },
  );

  it.each(fittedAlone.map((family) => [family.description.name, family] as const))(
    '%s refuses an outcome of a kind that it does not predict',
    (_name, family) => {
      for (const kind of ['event', 'levels', 'number'] as const)
        if (!family.description.outcomes.includes(kind))
          expect(() => fitWith({})(family, prepared, outcomes[kind])).toThrow(/is of kind/);
    },
  );
});

describe.each(everyFit)('%s, %s', (_name, kind, family, settings) => {
  const fit = fitWith(settings);
  const outcome = outcomes[kind];
  const inputs = inputsOf(family, kind);
  const fitted = fit(family, inputs, outcome);
  const predictions = fitted.fitted.predict(inputs);
  const numbers = numbersOf(predictions);

  it('predicts what it was fitted to, for every patient', () => {
    expect(predictions.kind).toBe(kind);
    expect(numbers.length).toBe(patients * widthOf(predictions));
    expect(numbers.every(Number.isFinite)).toBe(true);
    if (kind === 'number') return;
    expect(numbers.every((share) => share >= 0 && share <= 1)).toBe(true);
    if (predictions.kind !== 'levels') return;
    expect(predictions.levels).toEqual(['none', 'mild', 'severe']);
    for (let i = 0; i < patients; i++) {
      const own = numbers.subarray(3 * i, 3 * i + 3);
      expect(own.reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 12);
    }
  });

  it('comes back from what is saved to the last bit, and refuses what is not', () => {
    const saved = fitted.fitted.save();
    const json = JSON.parse(JSON.stringify(saved.json)) as unknown;
    const { layout, bytes } = packArrays(saved.arrays);
    const arrays = unpackArrays(layout, bytes);
    expect(family.revive({ ...saved, json, arrays }).predict(inputs)).toEqual(predictions);
    for (const other of [null, {}, [], 'model', { estimates: ['1'] }])
      expect(() => family.revive({ version: 1, json: other, arrays: {} })).toThrow();
  });

  it('predicts patients one by one as it predicts them together', () => {
    const width = widthOf(predictions);
    for (const row of [0, 17, 119])
      expect([...numbersOf(fitted.fitted.predict(pick(inputs, [row])))]).toEqual([
        ...numbers.subarray(row * width, (row + 1) * width),
      ]);
  });

  it('gives the same numbers when fitted again, and nearly so in another order of patients', () => {
    expect(fit(family, inputs, outcome).fitted.predict(inputs)).toEqual(predictions);
    const turned = Array.from({ length: patients }, (_, i) => (i * 77) % patients);
    const other = fit(family, pick(inputs, turned), takeOutcome(outcome, turned));
    expect(apart(numbersOf(other.fitted.predict(inputs)), numbers)).toBeLessThan(1e-8);
  });

  it('takes a weight of two for the patient twice', () => {
    if (family.description.drawsPatients) return;
    const rows = Array.from({ length: patients }, (_, i) => i);
    const twice = [...rows, ...rows.filter((row) => row % 3 === 0)];
    const weights = Float64Array.from(rows, (row) => (row % 3 === 0 ? 2 : 1));
    const weighted = fit(family, inputs, outcome, weights);
    const repeated = fit(family, pick(inputs, twice), takeOutcome(outcome, twice));
    const numbersBy = (one: typeof weighted) => numbersOf(one.fitted.predict(inputs));
    expect(apart(numbersBy(weighted), numbersBy(repeated))).toBeLessThan(1e-7);
    // What is dealt anew by chance is dealt otherwise among copies; twins share out what both add.
    // A map draws each patient, and copies beside one another.
    const drawn = (key: string, value: unknown) => (key === 'map' ? undefined : value);
    const shown = (one: typeof weighted) =>
      one
        .describe()
        .facets.filter(({ kind }) => kind !== 'importance' && kind !== 'margin')
        .map((facet) => JSON.parse(JSON.stringify(facet, drawn)) as unknown);
    expectClose(shown(weighted), shown(repeated));
  });

  it('fits what the patients have on the whole where there is nothing to learn from', () => {
    if (family.description.fixed) return;
    const nothing = { rowCount: patients, names: [], columns: [] };
    const plain = numbersOf(fit(family, nothing, outcome).fitted.predict(nothing));
    const reference = numbersOf(
      fit(familyOf('reference'), nothing, outcome).fitted.predict(nothing),
    );
    expect(apart(plain, reference)).toBeLessThan(1e-9);
  });

  it('leaves out an input that repeats others, names it, and predicts as without it', () => {
    // Only where each input has a share of its own: a tree asks the one or the other, and says the same.
    if (!facetOf(fitted.describe().facets, 'coefficients')) return;
    const repeated: Inputs = {
      ...inputs,
      names: [...inputs.names, 'twice a'],
      columns: [...columns, columns[0].map((value) => 2 * value + 1)],
    };
    const with5 = fit(family, repeated, outcome);
    expect(with5.warnings).toEqual([
      { code: 'left out', sentence: 'Left out because it repeats other inputs: twice a.' },
    ]);
    expect(apart(numbersOf(with5.fitted.predict(repeated)), numbers)).toBeLessThan(1e-7);
  });
});

/** Equal structures whose numbers agree to seven digits. */
function expectClose(actual: unknown, expected: unknown, path = ''): void {
  if (typeof expected === 'number') {
    // Steps to the maximum may differ by one.
    if (path.endsWith('iterations')) return;
    const scale = Math.max(1e-6, Math.abs(expected));
    expect(Math.abs((actual as number) - expected) / scale, path).toBeLessThan(1e-6);
  } else if (typeof expected === 'object' && expected !== null) {
    const [a, b] = [actual, expected] as Record<string, unknown>[];
    expect(Object.keys(a), path).toEqual(Object.keys(b));
    for (const key of Object.keys(b)) expectClose(a[key], b[key], `${path}/${key}`);
  } else expect(actual, path).toBe(expected);
}

describe('settings', () => {
  it('are filled in, and refused outside their range with a sentence', () => {
    const schema = settingsSchema(familyOf('logistic').description.settings);
    expect(schema.parse({})).toEqual({ estimates: 'likeliest', iterations: 50 });
    expect(() => schema.parse({ iteration: 20 })).toThrow(
      /There is no setting “iteration”. The settings are estimates, iterations/,
    );
    expect(() => schema.parse({ iterations: 2 })).toThrow(/Iterations at most: from 5 to 200/);
    expect(() => schema.parse({ iterations: 7.5 })).toThrow(/a whole number/);
    expect(() => schema.parse({ iterations: 'many' })).toThrow(/from 5 to 200/);
  });

  it('of every type hold to what their field says', () => {
    const schema = settingsSchema([
      {
        name: 'shape',
        label: 'Shape',
        help: 'How.',
        type: 'choice',
        options: [
          { value: 'a', label: 'A' },
          { value: 'b', label: 'B' },
        ],
        default: 'b',
      },
      { name: 'early', label: 'Early', help: 'When.', type: 'switch', default: true },
    ]);
    expect(schema.parse({})).toEqual({ shape: 'b', early: true });
    expect(() => schema.parse({ shape: 'c' })).toThrow(/Shape: choose one of the options/);
    expect(() => schema.parse({ early: 'yes' })).toThrow();
  });

  it('of a family that is not there are not to be had', () => {
    expect(() => familyOf('oracle')).toThrow('There is no model family "oracle".');
  });
});
