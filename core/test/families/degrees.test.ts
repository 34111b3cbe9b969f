import { describe, expect, it } from 'vitest';
import { facetOf, familyOf } from '../../src/families/index.ts';
import { iris } from '../reference/sets.ts';
import { defaultsOf } from './fit-event.ts';

describe('degrees of freedom of a fit to several levels', () => {
  // Fisher (1936): 150 flowers, 3 levels, 4 inputs; the saturated model has 150 × (3 − 1) parameters.
  const { inputs, outcome } = iris();
  it.each([
    ['multinomial', 2 + 2 * 4],
    ['proportional-odds', 2 + 4],
  ])('of %s are n(K − 1) less the parameters', (id, parameters) => {
    const family = familyOf(id);
    const { describe: shown } = family.fit(inputs, outcome, defaultsOf(family), { seed: 1 });
    const likelihood = facetOf(shown().facets, 'likelihood')!;
    expect(likelihood.nullDegrees).toBe(300 - 2);
    expect(likelihood.residualDegrees).toBe(300 - parameters);
  });
});
