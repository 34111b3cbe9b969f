import { describe, expect, it } from 'vitest';
import { facetOf, familyOf, settingsSchema, type LossCurve } from '../../src/families/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';

const patients = 400;
const draw = randomStream(12, 'learning');
const inputs: Inputs = {
  rowCount: patients,
  names: ['a', 'b'],
  columns: [0, 1].map(() => Float64Array.from({ length: patients }, () => draw.normal())),
};
const values = Int8Array.from(inputs.columns[0], (one, i) =>
  Number(one + inputs.columns[1][i] + draw.normal() > 1),
);

describe.each([
  { id: 'neural-network', settings: { starts: 1, epochs: 40 } },
  { id: 'boosted-trees', settings: { trees: 60 } },
])('what $id tells while it learns', ({ id, settings }) => {
  const family = familyOf(id);
  const told: LossCurve[] = [];
  const shares: number[] = [];
  const result = family.fit(
    inputs,
    { kind: 'event', values },
    settingsSchema(family.description.settings).parse(settings),
    {
      seed: 1,
      progress: (share) => shares.push(share),
      learning: (soFar) => told.push(soFar()),
    },
  );
  const shown = facetOf(result.describe().facets, 'curve')!;

  it('grows by one place at a time, to the curve that is shown afterwards', () => {
    expect(told.map(({ at }) => at.length)).toEqual(told.map((_, i) => i + 2));
    expect(told.at(-1)).toEqual(shown);
    // What was told before is not changed by what follows.
    expect(told[0].lines[1].values).toEqual(shown.lines[1].values.slice(0, 2));
  });

  it('names the best place until then', () => {
    for (const { lines, at, chosen } of told)
      expect(lines[1].values[at.indexOf(chosen)]).toBe(Math.min(...lines[1].values));
  });

  it('is told besides how much is done, which never falls and ends with all', () => {
    expect(shares).toEqual(shares.toSorted((a, b) => a - b));
    expect(shares.at(-1)).toBe(1);
  });
});
