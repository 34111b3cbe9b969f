import { describe, expect, it } from 'vitest';
import { familyOf, settingsSchema, type Settings } from '../../src/families/index.ts';
import { predictionsOf, type Outcome } from '../../src/outcome/index.ts';
import { loadTable } from '../reference/load.ts';
import { columnsOf } from '../reference/sets.ts';

/** Turck et al. (2010), Intensive Care Med 36:107-115: 41 of 113 patients with a poor outcome. */
function bleedings() {
  const inputs = columnsOf('aSAH', ['age', 'wfns', 's100b', 'ndka']);
  const table = loadTable('aSAH');
  const outcome = table.columns[table.dictionary.findIndex(({ name }) => name === 'outcome')];
  if (outcome.type !== 'coded') throw new Error('The outcome should have levels.');
  const poor = outcome.levels.indexOf('Poor');
  const event: Outcome = {
    kind: 'event',
    values: Int8Array.from(outcome.codes, (code) => Number(code === poor)),
  };
  return { inputs, event };
}

describe('few patients', () => {
  const { inputs, event } = bleedings();
  const risksBy = (id: string, said: Settings = {}) => {
    const family = familyOf(id);
    const settings = settingsSchema(family.description.settings).parse(said);
    const { fitted, warnings } = family.fit(inputs, event, settings, { seed: 1 });
    return { warnings, risks: predictionsOf(fitted.predict(inputs), 'event').risks };
  };

  it.each(['additive', 'nearest-patients', 'support-vectors', 'neural-network'])(
    '%s settles on them, and tells cases from others better than what all have does',
    (id) => {
      const { warnings, risks } = risksBy(id);
      expect(warnings).toEqual([]);
      expect(risks.every((risk) => risk >= 0 && risk <= 1)).toBe(true);
      const share = event.values.reduce((sum, one) => sum + one, 0) / 113;
      const loss = (of: (row: number) => number) =>
        event.values.reduce((sum, one, row) => sum + (of(row) - one) ** 2, 0);
      expect(loss((row) => risks[row])).toBeLessThan(0.85 * loss(() => share));
      // On the whole as many as there are.
      const mean = risks.reduce((sum, one) => sum + one, 0) / 113;
      expect(Math.abs(mean - share)).toBeLessThan(0.06);
    },
  );

  it('are told apart by support vectors, bent or straight, though cases are the fewer', () => {
    const spread = (said: Settings) => {
      const { risks } = risksBy('support-vectors', said);
      return Math.max(...risks) - Math.min(...risks);
    };
    expect(spread({})).toBeGreaterThan(0.4);
    expect(spread({ shape: 'linear' })).toBeGreaterThan(0.4);
  });
});
