import { describe, expect, it } from 'vitest';
import { facetOf, familyOf, settingsSchema, type Settings } from '../../src/families/index.ts';
import type { Model } from '../../src/model/index.ts';
import type { CaseRule } from '../../src/outcome/index.ts';
import { addedUp, onTheWhole, takenRows } from '../../src/reasons/index.ts';
import {
  fitAll,
  modelOf,
  outcomes,
  predictors,
  rows,
  wholeOf,
} from '../tuning/made-up-patients.ts';

const development = predictors.map((column) => takenRows(column, rows));

function fitted(family: string, kind: 'event' | 'number', some: Settings) {
  const settings = settingsSchema(familyOf(family).description.settings).parse(some);
  const whole = wholeOf(fitAll(outcomes[kind], { family, settings, seed: 5 }));
  const { model: saved, preparation, facets } = whole;
  const model: Model = { ...modelOf, preparation, family: { id: family, settings, saved } };
  return { model, facets };
}

const number: CaseRule = { kind: 'number', side: 'from', value: 5 };

describe('what predictors add on the whole', () => {
  it.each<[string, 'event' | 'number', Settings, CaseRule]>([
    ['logistic', 'event', {}, { kind: 'event' }],
    ['linear', 'number', {}, number],
    ['random-forest', 'event', { trees: 12, depth: 4 }, { kind: 'event' }],
  ])('is the mean size of what they add to a %s (%s), the greatest first', (...given) => {
    const [family, kind, settings, cases] = given;
    const { model, facets } = fitted(family, kind, settings);
    const found = onTheWhole(model, cases, facets, development, 3);
    expect([found.way, found.patients]).toEqual(['own sum', rows.length]);
    const { values } = addedUp(model, development, development)!;
    const byHand = predictors.map(({ name }, j) => {
      const total = values[j].reduce((sum, added) => sum + Math.abs(added), 0);
      return { name, size: total / rows.length };
    });
    byHand.sort((a, b) => b.size - a.size);
    expect(found.predictors.map(({ name }) => name)).toEqual(byHand.map(({ name }) => name));
    found.predictors.forEach(({ size }, k) => expect(size).toBeCloseTo(byHand[k].size, 9));
    // What really acts is ahead of a predictor of nothing.
    expect(found.predictors.at(-1)!.name).toBe('first');
  });

  it('stands beside what splits gained: shares that come to 1, one for each predictor', () => {
    const forest = fitted('random-forest', 'event', { trees: 12, depth: 4 });
    const found = onTheWhole(forest.model, { kind: 'event' }, forest.facets, development, 3);
    const own = facetOf(forest.facets, 'importance')!;
    expect(found.own).toEqual({ whose: own.whose, patients: own.patients });
    const gains = found.predictors.map(({ gained }) => gained!);
    const all = own.inputs.reduce((sum, { gained }) => sum + gained, 0);
    expect(gains.reduce((sum, gained) => sum + gained, 0)).toBeCloseTo(all, 12);
    const line = fitted('logistic', 'event', {});
    const without = onTheWhole(line.model, { kind: 'event' }, line.facets, development, 3);
    expect(without.own).toBeUndefined();
    expect(without.predictors.every(({ gained }) => gained === undefined)).toBe(true);
  });

  it('is drawn from a few patients where a model is no sum', () => {
    const { model, facets } = fitted('discriminants', 'event', {});
    const found = onTheWhole(model, { kind: 'event' }, facets, development, 3);
    expect(found.way).not.toBe('own sum');
    expect(found.patients).toBe(50);
  });
});
