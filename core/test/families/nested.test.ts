import { describe, expect, it } from 'vitest';
import { ratioTest, type Facet } from '../../src/families/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import { familyOf } from '../../src/families/index.ts';
import { defaultsOf, eventOutcome } from './fit-event.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';

interface NestedValues {
  nested_lr_tests: { description: string; chi2: number; df: number; p: number }[];
}
/** Hosmer & Lemeshow (1989), Applied Logistic Regression; values by a general-purpose library. */
const { nested_lr_tests: expected } = loadValues<NestedValues>('logistic_birthwt');

const table = loadTable('birthwt');
const column = (name: string) => numbers(table, name);
const all: Record<string, ArrayLike<number>> = {
  age: column('age'),
  lwt: column('lwt'),
  race2: Array.from(column('race'), (race) => Number(race === 2)),
  race3: Array.from(column('race'), (race) => Number(race === 3)),
  smoke: column('smoke'),
  ptl: column('ptl'),
  ht: column('ht'),
  ui: column('ui'),
  ftv: column('ftv'),
};

function shown(without: string[] = [], rows = 189): { inputs: string[]; facets: Facet[] } {
  const names = Object.keys(all).filter((name) => !without.includes(name));
  const inputs: Inputs = {
    rowCount: rows,
    names,
    columns: names.map((name) => Float64Array.from(all[name]).subarray(0, rows)),
  };
  const family = familyOf('logistic');
  const outcome = eventOutcome(column('low').subarray(0, rows));
  const { facets } = family.fit(inputs, outcome, defaultsOf(family), { seed: 1 }).describe();
  return { inputs: names, facets };
}

describe('fits nested in each other', () => {
  it.each([
    [expected[0], ['race2', 'race3', 'ptl']],
    [expected[1], ['age', 'ftv']],
  ] as const)('are told apart by their likelihoods: $description', (value, without) => {
    const test = ratioTest(shown(), shown([...without]))!;
    expect(test.chiSquare).toBeCloseTo(value.chi2, 6);
    expect(test.degrees).toBe(value.df);
    expect(test.p).toBeCloseTo(value.p, 8);
    expect(test.more).toEqual([...without]);
  });

  it('are none where each has an input of its own, or the patients are others', () => {
    expect(ratioTest(shown(['age']), shown(['ftv']))).toBeUndefined();
    expect(ratioTest(shown(['age']), shown())).toBeUndefined();
    expect(ratioTest(shown(), shown(['age'], 188))).toBeUndefined();
    expect(ratioTest(shown(), { inputs: ['age'], facets: [] })).toBeUndefined();
    expect(ratioTest(shown(), shown())).toBeUndefined();
  });
});
