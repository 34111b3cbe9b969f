import { describe, expect, it } from 'vitest';
import { randomStream } from '../../src/numeric/index.ts';
import { addLeaves, alteredSums, type Ensemble } from '../../src/trees/index.ts';
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

describe('sums of leaves of many patients, and of many alternatives', () => {
  const family = familyOf('random-forest');
  const settings = settingsSchema(family.description.settings).parse({ trees: 12 });
  const { fitted } = family.fit(inputs, outcomes.levels, settings, { seed: 3 });
  const ensemble = fitted.save().arrays as unknown as Ensemble;
  const stream = randomStream(5, 'altered');
  const rowCount = 1300;
  const many: Inputs = {
    ...inputs,
    rowCount,
    columns: inputs.columns.map((column) =>
      Float64Array.from({ length: rowCount }, () => column[Math.floor(count * stream.uniform())]),
    ),
  };
  // More than go together, of one input; a few of another one; of both; of none.
  const altered = [
    ...Array.from({ length: 70 }, () => [0]),
    ...Array.from({ length: 3 }, () => [3]),
    ...Array.from({ length: 40 }, () => [1, 3]),
    [],
  ];
  const alternatives = altered.map((changed) => ({
    ...many,
    columns: many.columns.map((column, j) =>
      changed.includes(j)
        ? column.map(() => column[Math.floor(rowCount * stream.uniform())])
        : column,
    ),
  }));
  const width = 3;
  const start = (rows: number) => new Float64Array(rows * width).fill(0.5);
  const alone = alternatives.map((one) => {
    const sums = start(rowCount);
    addLeaves(ensemble, one, sums, { width });
    return sums;
  });

  it.each([65_534, 200, 1])('are those of each alone, with codes for %i thresholds', (codes) => {
    const found = alteredSums(ensemble, many, alternatives, start, { width, codes });
    found.forEach((sums, a) => {
      const far = sums.reduce((most, sum, i) => Math.max(most, Math.abs(sum - alone[a][i])), 0);
      expect(far).toBeLessThan(1e-11);
    });
  });

  it('are those of each alone where values stand at thresholds, or beyond all', () => {
    const at = ensemble.threshold.filter((_, node) => ensemble.input[node] === 1);
    const edge = { ...many, columns: [...many.columns] };
    edge.columns[1] = Float64Array.from({ length: rowCount }, (_, i) =>
      i % 50 === 0 ? Infinity : i % 50 === 1 ? -Infinity : at[i % at.length],
    );
    const [found] = alteredSums(ensemble, many, [edge], start, { width });
    const sums = start(rowCount);
    addLeaves(ensemble, edge, sums, { width });
    found.forEach((sum, i) => expect(sum).toBeCloseTo(sums[i], 11));
  });
});
