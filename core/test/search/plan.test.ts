import { describe, expect, it } from 'vitest';
import { familyOf } from '../../src/families/index.ts';
import {
  costsEntering,
  finerValues,
  rangeOf,
  SearchError,
  settingsCloser,
  settingsTried,
  type SearchPlan,
} from '../../src/search/index.ts';

const forest = familyOf('random-forest').description.settings;
const plan = (
  tried: SearchPlan['tried'],
  way: SearchPlan['way'] = { kind: 'all' },
): SearchPlan => ({
  tried,
  fixed: {},
  way,
  measure: 'auc',
});

describe('the settings of a search', () => {
  it('are all combinations, the last setting going fastest, the rest as usual', () => {
    const tried = settingsTried(forest, plan({ trees: [10, 20], leastLeaf: [1, 5, 9] }), 1);
    expect(tried.map(({ trees, leastLeaf }) => [trees, leastLeaf])).toEqual([
      [10, 1],
      [10, 5],
      [10, 9],
      [20, 1],
      [20, 5],
      [20, 9],
    ]);
    expect(tried.every(({ depth, drawnBy }) => depth === 30 && drawnBy === 'bootstrap')).toBe(true);
  });

  it('ask for a setting only under the one that asks for it', () => {
    const tried = settingsTried(forest, plan({ triesBy: ['usual', 'given'], tries: [2, 3, 4] }), 1);
    expect(tried.map(({ triesBy, tries }) => `${String(triesBy)} ${String(tries)}`)).toEqual([
      'usual 4',
      'given 2',
      'given 3',
      'given 4',
    ]);
  });

  it('are drawn by a seed, each once, in their order', () => {
    const tried = { trees: [10, 20, 30, 40, 50], leastLeaf: [1, 2, 3, 4, 5, 6, 7, 8] };
    const drawn = (seed: number) =>
      settingsTried(forest, plan(tried, { kind: 'drawn', count: 12 }), seed).map(
        ({ trees, leastLeaf }) => 100 * Number(trees) + Number(leastLeaf),
      );
    expect(drawn(1)).toHaveLength(12);
    expect(new Set(drawn(1)).size).toBe(12);
    expect(drawn(1)).toEqual(drawn(1).toSorted((a, b) => a - b));
    expect(drawn(1)).toEqual(drawn(1));
    expect(drawn(2)).not.toEqual(drawn(1));
    const all = settingsTried(forest, plan(tried, { kind: 'drawn', count: 400 }), 1);
    expect(all).toHaveLength(40);
  });

  it('are refused where there is one only, too many, or what the family does not take', () => {
    const refused = (tried: SearchPlan['tried']) => () => settingsTried(forest, plan(tried), 1);
    expect(refused({ trees: [10] })).toThrow(SearchError);
    const many = Array.from({ length: 100 }, (_, i) => i + 1);
    expect(refused({ trees: many, leastLeaf: many })).toThrow('10,000 combinations');
    expect(refused({ trees: many, leastLeaf: many, depth: many.slice(0, 50) })).toThrow('200,000');
    expect(refused({ trees: [10, 20], depth: [51] })).toThrow('from 1 to 50');
  });
});

describe('costs', () => {
  const tree = familyOf('decision-tree').description;
  const entering = (tried: SearchPlan['tried'], fixed: SearchPlan['fixed'] = {}) =>
    costsEntering(tree, { tried, fixed });

  it('enter a search where they enter the fit of any of its settings, usual ones included', () => {
    expect(entering({ leaves: [2, 3] })).toEqual({ prunedBy: 'error costs' });
    expect(entering({ leaves: [2, 3] }, { prunedBy: 'Brier score' })).toBeUndefined();
    expect(entering({ prunedBy: ['Brier score', 'error costs'] })).toEqual({
      prunedBy: 'error costs',
    });
    expect(entering({ costsInSplits: [false, true] }, { prunedBy: 'Brier score' })).toEqual({
      costsInSplits: true,
    });
    const { description } = familyOf('logistic');
    expect(costsEntering(description, { tried: {}, fixed: {} })).toBeUndefined();
  });
});

describe('values of a range', () => {
  it('go evenly, by ratio, and as whole numbers each once', () => {
    expect(rangeOf({ whole: false }, 0, 1, 5, 'step')).toEqual([0, 0.25, 0.5, 0.75, 1]);
    expect(rangeOf({ whole: false }, 0.01, 100, 5, 'ratio')).toEqual([0.01, 0.1, 1, 10, 100]);
    expect(rangeOf({ whole: true }, 1, 4, 7, 'step')).toEqual([1, 2, 3, 4]);
    expect(rangeOf({ whole: true }, 50, 800, 5, 'ratio')).toEqual([50, 100, 200, 400, 800]);
    expect(rangeOf({ whole: false }, 3, 3, 4, 'step')).toEqual([3]);
  });

  it('become finer around the best, by step or by ratio as they were, within what is allowed', () => {
    const field = { least: 0, most: 1000, whole: false } as Parameters<typeof finerValues>[0];
    expect(finerValues(field, [1, 2, 3, 4], 2)).toEqual([1.5, 2.5]);
    expect(finerValues(field, [0.01, 1, 100], 1)).toEqual([0.1, 10]);
    // The last on a side: as far beyond it.
    expect(finerValues(field, [10, 20, 30], 30)).toEqual([25, 40]);
    expect(finerValues(field, [0, 5, 10], 0)).toEqual([2.5]);
    expect(finerValues({ ...field, whole: true }, [3, 4, 5], 4)).toEqual([]);
  });

  it('are combined around the best, without what was tried', () => {
    const tried = settingsTried(forest, plan({ trees: [10, 20, 30], leastLeaf: [2, 6, 10] }), 1);
    const closer = settingsCloser(forest, tried, tried[4]);
    expect(closer.map(({ trees, leastLeaf }) => `${String(trees)}/${String(leastLeaf)}`)).toEqual([
      '20/4',
      '20/8',
      '15/6',
      '15/4',
      '15/8',
      '25/6',
      '25/4',
      '25/8',
    ]);
  });
});
