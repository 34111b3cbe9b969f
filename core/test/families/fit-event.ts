import {
  facetOf,
  familyOf,
  settingsSchema,
  type Family,
  type Settings,
} from '../../src/families/index.ts';
import { predictionsOf } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';

/** Outcomes of yes/no kind. */
export const eventOutcome = (events: ArrayLike<number>) => ({
  kind: 'event' as const,
  values: Int8Array.from(events),
});

/** The settings of a family as the interface first offers them. */
export const defaultsOf = (family: Family): Settings =>
  settingsSchema(family.description.settings).parse(
    family.description.fixed ? { formula: 'rule' } : {},
  );

/** A family fitted to a yes/no outcome, with what it shows and its risks. */
export function fitEvent(
  id: string,
  inputs: Inputs,
  events: ArrayLike<number>,
  weights?: Float64Array,
  settings: Settings = {},
) {
  const family = familyOf(id);
  const outcome = eventOutcome(events);
  const result = family.fit(
    inputs,
    outcome,
    { ...defaultsOf(family), ...settings },
    { seed: 1, weights },
  );
  const { facets } = result.describe();
  return {
    warnings: result.warnings,
    coefficients: facetOf(facets, 'coefficients')?.groups[0].lines,
    likelihood: facetOf(facets, 'likelihood'),
    byProfile: facetOf(facets, 'coefficients')?.byProfile,
    save: () => result.fitted.save(),
    predict: (on: Inputs) => predictionsOf(result.fitted.predict(on), 'event').risks,
  };
}
