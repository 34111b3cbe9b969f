import { describe, expect, it } from 'vitest';
import { familyOf, settingsSchema, type Settings } from '../../src/families/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { numbersOf, type Outcome } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';

const count = 900;
const draw = randomStream(31, 'directions');
const rows = Array.from({ length: count }, (_, row) => row);
const number = (gaps: number) =>
  Float64Array.from(rows, () => (draw.uniform() < gaps ? NaN : Math.round(40 * draw.uniform())));
const inputs: Inputs = {
  rowCount: count,
  names: ['dose', 'age', 'ward'],
  columns: [
    number(0.1),
    number(0.15),
    Float64Array.from(rows, () => Math.floor(4 * draw.uniform())),
  ],
  levels: [undefined, undefined, ['east', 'north', 'south', 'west']],
};
const [dose, age, ward] = inputs.columns;
/** Rises with the dose and then falls again; age and ward change where. */
const truth = (row: number) =>
  1 -
  Math.abs((Number.isNaN(dose[row]) ? 10 : dose[row]) - 20 - 4 * ward[row]) / 30 +
  (age[row] > 25 ? 0.3 : 0);
const outcomes: Outcome[] = [
  {
    kind: 'event',
    values: Int8Array.from(rows, (row) => Number(draw.uniform() < 0.7 * truth(row))),
  },
  { kind: 'number', values: Float64Array.from(rows, (row) => 50 * truth(row) + 8 * draw.normal()) },
];

function fit(family: string, outcome: Outcome, settings: Settings, weights?: Float64Array) {
  const own = familyOf(family);
  const all = settingsSchema(own.description.settings).parse(settings);
  return own.fit(inputs, outcome, all, { seed: 3, ...(weights && { weights }) });
}

/** Every fifth patient at each dose in turn. */
const doses = Array.from({ length: 41 }, (_, dose) => dose);
const some = rows.filter((row) => row % 5 === 0);
const varied: Inputs = {
  ...inputs,
  rowCount: some.length * doses.length,
  columns: [
    Float64Array.from(some.flatMap(() => doses)),
    Float64Array.from(some.flatMap((row) => doses.map(() => age[row]))),
    Float64Array.from(some.flatMap((row) => doses.map(() => ward[row]))),
  ],
};

/** How often what is predicted falls from one dose to the next, and how often it rises. */
function turns(predicted: Float64Array) {
  let [falls, rises] = [0, 0];
  for (let i = 1; i < predicted.length; i++) {
    if (i % doses.length === 0) continue;
    if (predicted[i] < predicted[i - 1]) falls++;
    if (predicted[i] > predicted[i - 1]) rises++;
  }
  return { falls, rises };
}

const ways: [string, string, Settings][] = [
  ['a tree of all that was grown', 'decision-tree', { size: 'all', leastLeaf: 3 }],
  ['a pruned tree', 'decision-tree', { size: 'best', prunedBy: 'Brier score' }],
  [
    'a tree by entropy, shares as they are',
    'decision-tree',
    { size: 'all', criterion: 'entropy', drawn: 0 },
  ],
  ['a forest', 'random-forest', { trees: 12 }],
  ['a forest with thresholds at random', 'random-forest', { trees: 12, thresholds: 'random' }],
  ['a forest of balanced samples', 'random-forest', { trees: 12, drawnBy: 'balanced' }],
  ['boosted trees', 'boosted-trees', { until: 'all', trees: 30 }],
];

describe.each(ways)('what %s says', (_, family, settings) => {
  it.each(outcomes)('never falls with what it must not fall with: $kind', (outcome) => {
    const predicted = (more: Settings) =>
      numbersOf(fit(family, outcome, { ...settings, ...more }).fitted.predict(varied));
    const free = turns(predicted({}));
    expect(free.falls).toBeGreaterThan(100);
    expect(free.rises).toBeGreaterThan(100);
    const rising = turns(predicted({ rising: ['dose'] }));
    expect(rising.falls).toBe(0);
    expect(rising.rises).toBeGreaterThan(100);
    const falling = turns(predicted({ falling: ['dose'] }));
    expect(falling.rises).toBe(0);
    // A pruned tree may do without.
    if (settings.size !== 'best') expect(falling.falls).toBeGreaterThan(100);
  });
});

describe('a tree with a direction', () => {
  it('keeps it at every size that it can be pruned to, and with weights', () => {
    const weights = Float64Array.from(rows, (row) => 1 + (row % 3));
    for (const outcome of outcomes) {
      const { fitted } = fit('decision-tree', outcome, { size: 'all', rising: ['dose'] }, weights);
      for (const leaves of [40, 20, 10, 5, 3, 2])
        expect(turns(numbersOf(fitted.predict(varied, leaves))).falls).toBe(0);
    }
  });

  it('is the tree without one where that never goes against it', () => {
    const steps: Outcome = {
      kind: 'number',
      values: Float64Array.from(rows, (row) =>
        Math.floor((Number.isNaN(dose[row]) ? 0 : dose[row]) / 10),
      ),
    };
    const said = (more: Settings) =>
      numbersOf(fit('decision-tree', steps, { size: 'all', ...more }).fitted.predict(inputs));
    expect(said({ rising: ['dose'] })).toEqual(said({}));
    expect(said({ falling: ['dose'] })).not.toEqual(said({}));
  });

  it.each(['decision-tree', 'random-forest'])(
    'says which directions cannot be kept: %s',
    (family) => {
      const codes = (family: string, outcome: Outcome, settings: Settings) =>
        fit(family, outcome, { ...(family === 'random-forest' && { trees: 3 }), ...settings })
          .warnings;
      const stages: Outcome = {
        kind: 'levels',
        levels: ['a', 'b', 'c'],
        ordered: true,
        values: Int32Array.from(rows, (row) => row % 3),
      };
      expect(codes(family, stages, { rising: ['dose'] }).map(({ code }) => code)).toContain(
        'direction not kept',
      );
      const [warning] = codes(family, outcomes[0], { rising: ['ward', 'dose'], falling: ['dose'] });
      expect(warning.sentence).toMatch(/No direction is kept for ward, dose/);
      expect(codes(family, outcomes[0], { falling: ['age'] })).toEqual([]);
    },
  );
});

describe('the sizes of one tree', () => {
  it.each(outcomes)('are those of trees that are fitted one by one: $kind', (outcome) => {
    const largest = fit('decision-tree', outcome, { size: 'leaves', leaves: 60 });
    const again = familyOf('decision-tree').revive(largest.fitted.save());
    for (let leaves = 60; leaves > 0; leaves--) {
      const alone = fit('decision-tree', outcome, { size: 'leaves', leaves }).fitted;
      const own = numbersOf(alone.predict(inputs));
      expect(numbersOf(largest.fitted.predict(inputs, leaves))).toEqual(own);
      expect(numbersOf(again.predict(inputs, leaves))).toEqual(own);
    }
  });

  it('are not told by a tree that was kept without them', () => {
    const { fitted } = fit('decision-tree', outcomes[0], { size: 'all' });
    const { version, json, arrays } = fitted.save();
    const { ends: _, ...older } = arrays;
    const again = familyOf('decision-tree').revive({ version, json, arrays: older });
    expect(numbersOf(again.predict(inputs))).toEqual(numbersOf(fitted.predict(inputs)));
    expect(numbersOf(again.predict(inputs, 2))).toEqual(numbersOf(fitted.predict(inputs)));
  });
});
