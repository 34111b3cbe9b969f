import { describe, expect, it } from 'vitest';
import { familyOf, settingsSchema } from '../../src/families/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { predictionsOf, type Outcome } from '../../src/outcome/index.ts';
import {
  arrangedStepSchema,
  fitPreparation,
  learningInputs,
  type PredictorColumn,
} from '../../src/preparation/index.ts';
import { stepsFor } from '../../src/tuning/index.ts';

const draw = randomStream(23, 'chosen scale');
const count = 120;
/** One number spreads evenly, the other has a long tail: their SDs and their ranges say different things. */
const even = Float64Array.from({ length: count }, () => draw.uniform());
const tailed = Float64Array.from({ length: count }, () => 40 * draw.uniform() ** 6);
const columns: PredictorColumn[] = [
  { name: 'even', type: 'number', values: even },
  { name: 'tailed', type: 'number', values: tailed },
];
const outcome: Outcome = {
  kind: 'event',
  values: Int8Array.from(even, (value) => Number(value + 0.3 * draw.normal() > 0.6)),
};
const rows = Int32Array.from({ length: count }, (_, i) => i);
const rescale = (how: string) => [
  arrangedStepSchema.parse({ step: 'rescale', columns: 'all', how }),
];
const inputsOf = (family: string, how?: string) => {
  const { description } = familyOf(family);
  const steps = stepsFor(description, {
    ...(how && { steps: rescale(how) }),
  });
  const preparation = fitPreparation(columns, rows, outcome, steps).preparation;
  return learningInputs(preparation, columns, rows).inputs;
};

describe('a scale that the analyst chose', () => {
  it.each(['logistic', 'nearest-patients', 'neural-network', 'support-vectors', 'discriminants'])(
    'is the one that %s is given',
    (family) => {
      const inputs = inputsOf(family, '0 to 1');
      expect(inputs.scaled).toEqual([true, true]);
      for (const column of inputs.columns) {
        expect(Math.min(...column)).toBe(0);
        expect(Math.max(...column)).toBe(1);
      }
      expect(inputsOf(family).scaled).toBeUndefined();
    },
  );

  it('decides who is near', () => {
    const family = familyOf('nearest-patients');
    const settings = settingsSchema(family.description.settings).parse({
      neighboursBy: 'given',
      neighbours: 5,
      distance: 'euclidean',
    });
    const inputs = inputsOf('nearest-patients', '0 to 1');
    const { fitted } = family.fit(inputs, outcome, settings, { seed: 1 });
    const risks = predictionsOf(fitted.predict(inputs), 'event').risks;
    // By brute force in shares of the range.
    const [a, b] = inputs.columns;
    const share = outcome.values.reduce((sum, one) => sum + one, 0) / count;
    for (const row of [0, 17, 60]) {
      const near = [...rows]
        .map((other) => ({ other, far: (a[other] - a[row]) ** 2 + (b[other] - b[row]) ** 2 }))
        .sort((one, two) => one.far - two.far)
        .slice(0, 5);
      const cases = near.reduce((sum, { other }) => sum + outcome.values[other], 0);
      // One patient with the share of all is added to those asked.
      expect(risks[row]).toBeCloseTo((cases + share) / 6, 12);
    }
  });

  it('is the one in which coefficients are penalised', () => {
    const family = familyOf('penalised');
    const settings = settingsSchema(family.description.settings).parse({
      mix: 0,
      strengthBy: 'given',
      strength: 0.05,
    });
    const fit = (how?: string) => {
      const inputs = inputsOf('penalised', how);
      const { fitted } = family.fit(inputs, outcome, settings, { seed: 1 });
      return predictionsOf(fitted.predict(inputs), 'event').risks;
    };
    const [standard, byHand, unit] = [fit(), fit('mean and SD'), fit('0 to 1')];
    // The usual scale, chosen by name, changes next to nothing; another scale another penalty.
    byHand.forEach((risk, i) => expect(risk).toBeCloseTo(standard[i], 2));
    expect(Math.max(...unit.map((risk, i) => Math.abs(risk - standard[i])))).toBeGreaterThan(0.02);
  });
});
