import { describe, expect, it } from 'vitest';
import { familyOf, settingsSchema, type Settings } from '../../src/families/index.ts';
import { numbersOf, type Outcome } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import { count, draw, outcomes, predictors } from '../tuning/made-up-patients.ts';

const inputs: Inputs = {
  rowCount: count,
  names: predictors.map(({ name }) => name),
  columns: predictors.map((column) =>
    column.type === 'number' ? column.values : Float64Array.from(column.codes),
  ),
  levels: predictors.map((column) => (column.type === 'coded' ? column.levels : undefined)),
  ordered: predictors.map(() => false),
};

/** The inputs with values of some columns dealt anew. */
const dealt = (changed: number[]): Inputs => {
  const order = Int32Array.from({ length: count }, (_, i) => i).sort(() => draw.uniform() - 0.5);
  return {
    ...inputs,
    columns: inputs.columns.map((column, j) =>
      changed.includes(j) ? Float64Array.from(order, (row) => column[row]) : column,
    ),
  };
};

describe.each<[string, Outcome['kind'], Settings]>([
  ['random-forest', 'event', { trees: 40 }],
  ['random-forest', 'event', { trees: 40, drawnBy: 'balanced' }],
  ['random-forest', 'levels', { trees: 40 }],
  ['random-forest', 'number', { trees: 40 }],
  ['boosted-trees', 'event', { trees: 40, until: 'all' }],
  ['boosted-trees', 'levels', { trees: 40, until: 'all' }],
  ['boosted-trees', 'number', { trees: 40, until: 'all' }],
])('what a %s says of patients with other values (%s)', (id, kind, some) => {
  const family = familyOf(id);
  const settings = settingsSchema(family.description.settings).parse(some);
  const { fitted } = family.fit(inputs, outcomes[kind], settings, { seed: 3 });

  it('is what it says of each alternative alone', () => {
    const alternatives = [[0], [1], [2], [3], [0, 3], [0, 1, 2, 3]].map(dealt);
    const found = fitted.predictAltered!(inputs, alternatives);
    const plain = numbersOf(fitted.predict(inputs));
    alternatives.forEach((one, a) => {
      const [said, alone] = [found[a], fitted.predict(one)].map(numbersOf);
      expect(said).toHaveLength(alone.length);
      said.forEach((value, i) => expect(value).toBeCloseTo(alone[i], 11));
      expect(said.some((value, i) => value !== plain[i])).toBe(true);
    });
  });

  it('is to the bit the same where nothing is other', () => {
    const [found] = fitted.predictAltered!(inputs, [dealt([])]);
    expect(found).toEqual(fitted.predict(inputs));
  });
});
