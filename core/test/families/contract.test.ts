import { describe, expect, it } from 'vitest';
import { families, familyOf, settingsSchema, type Family } from '../../src/families/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';

/** Inputs of 120 patients, and an outcome that follows the first two of them. */
function cohort(patients = 120) {
  const draw = randomStream(3, 'family contract');
  const columns = Array.from({ length: 4 }, () =>
    Float64Array.from({ length: patients }, () => draw.normal()),
  );
  const events = Float64Array.from({ length: patients }, (_, i) =>
    Number(draw.uniform() < 1 / (1 + Math.exp(1 - columns[0][i] - 0.5 * columns[1][i]))),
  );
  const inputs: Inputs = { rowCount: patients, names: ['a', 'b', 'c', 'd'], columns };
  return { inputs, events };
}

function pick(inputs: Inputs, rows: number[]): Inputs {
  return {
    ...inputs,
    rowCount: rows.length,
    columns: inputs.columns.map((column) => Float64Array.from(rows, (row) => column[row])),
  };
}

const { inputs, events } = cohort();
const defaults = (family: Family) => settingsSchema(family.settings).parse({});
const fit = (
  family: Family,
  on = inputs,
  outcome: ArrayLike<number> = events,
  weights?: Float64Array,
) => family.fit(on, outcome, defaults(family), { seed: 1, weights });

describe.each(families.map((family) => [family.name, family] as const))('%s', (_name, family) => {
  it('is found by its id, and says of itself what the interface needs', () => {
    expect(familyOf(family.id)).toBe(family);
    expect(family.about).toMatch(/^[A-Z].*\.$/);
    for (const field of family.settings) {
      expect(field.label).toMatch(/^[A-Z]/);
      expect(field.help).toMatch(/\.$/);
    }
  });

  it('gives each patient a risk between 0 and 1', () => {
    const risks = fit(family).predict(inputs);
    expect(risks.length).toBe(120);
    for (const risk of risks) {
      expect(risk).toBeGreaterThanOrEqual(0);
      expect(risk).toBeLessThanOrEqual(1);
    }
  });

  it('comes back from its JSON to the last bit', () => {
    const fitted = fit(family);
    const again = family.revive(JSON.parse(JSON.stringify(fitted.toJSON())));
    expect(again.predict(inputs)).toEqual(fitted.predict(inputs));
    expect(again.coefficients).toEqual(fitted.coefficients);
    expect(again.likelihood).toEqual(fitted.likelihood);
  });

  it('refuses JSON that it did not make', () => {
    for (const other of [null, {}, [], 'model', { estimates: ['1'] }])
      expect(() => family.revive(other)).toThrow();
  });

  it('gives the same numbers when fitted again', () => {
    expect(fit(family).predict(inputs)).toEqual(fit(family).predict(inputs));
  });

  it('predicts patients one by one as it predicts them together', () => {
    const fitted = fit(family);
    const together = fitted.predict(inputs);
    for (const row of [0, 17, 119])
      expect(fitted.predict(pick(inputs, [row]))[0]).toBe(together[row]);
  });

  it('takes a weight of two for the patient twice', () => {
    const rows = Array.from({ length: 120 }, (_, i) => i);
    const twice = [...rows, ...rows.filter((row) => row % 3 === 0)];
    const weights = Float64Array.from(rows, (row) => (row % 3 === 0 ? 2 : 1));
    const weighted = fit(family, inputs, events, weights).predict(inputs);
    const repeated = fit(
      family,
      pick(inputs, twice),
      twice.map((row) => events[row]),
    );
    repeated.predict(inputs).forEach((risk, i) => expect(weighted[i]).toBeCloseTo(risk, 8));
  });

  it('does not mind the order of patients', () => {
    const turned = Array.from({ length: 120 }, (_, i) => (i * 77) % 120);
    const other = fit(
      family,
      pick(inputs, turned),
      turned.map((row) => events[row]),
    );
    const risks = fit(family).predict(inputs);
    other.predict(inputs).forEach((risk, i) => expect(risk).toBeCloseTo(risks[i], 9));
  });

  it('fits the share of events where there is nothing to learn from', () => {
    const nothing = { rowCount: 120, names: [], columns: [] };
    const share = events.reduce((sum, event) => sum + event, 0) / 120;
    for (const risk of fit(family, nothing).predict(nothing)) expect(risk).toBeCloseTo(share, 12);
  });
});

describe('settings', () => {
  it('are filled in, and refused outside their range with a sentence', () => {
    const schema = settingsSchema(familyOf('logistic').settings);
    expect(schema.parse({})).toEqual({ iterations: 50 });
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
