import { describe, expect, it } from 'vitest';
import {
  defaultDesign,
  describeDesignChange,
  describeDictionaryChange,
  describeSelectionChange,
  type Design,
} from '../../src/design/index.ts';
import type { Selection } from '../../src/selection/index.ts';
import type { Dictionary } from '../../src/table/index.ts';

const dictionary: Dictionary = ['age', 'sex', 'crp', 'died'].map((name) => ({
  name,
  label: name === 'crp' ? 'C-reactive protein' : '',
  unit: '',
  kind: 'number',
  role: 'predictor',
  missingCodes: [],
}));
const design: Design = {
  ...defaultDesign,
  outcome: 'died',
  event: 'yes',
  predictors: ['age', 'sex', 'crp'],
};

describe('a change of the design in words', () => {
  it.each<[Partial<Design>, string]>([
    [{}, ''],
    [{ missedCost: 8 }, 'cost of a missed case 1 → 8'],
    [{ heldOutShare: 0.3, seed: 7 }, 'held out 25% → 30%, seed 1 → 7'],
    [{ predictors: ['age', 'sex'] }, 'without C-reactive protein'],
    [{ predictors: ['age', 'sex', 'crp', 'ward'] }, 'with ward'],
    [{ event: 'no' }, 'event no'],
    [{ outcome: 'sex', event: '', predictors: ['age', 'crp'] }, 'outcome sex'],
    [{ kind: 'levels', reference: 'no' }, 'predicted as several levels, reference level no'],
    [{ cases: ['mild', 'severe'] }, 'cases: mild, severe'],
    [{ caseFrom: 177, caseSide: 'up to' }, 'a case up to 177'],
    [{ needed: ['crp'] }, 'C-reactive protein must be known'],
    [{ levelCosts: { levels: ['a'], costs: [[0]] } }, 'costs of wrong levels'],
    [{ falseAlarmCost: 2, costUnit: 'days' }, 'cost of a false alarm 1 → 2, costs in days'],
    [{ sealedShare: 0.125 }, 'sealed 0% → 12.5%'],
    [
      { ownCosts: { missed: 'crp', falseAlarm: '' } },
      'a missed case costs what C-reactive protein says',
    ],
    [
      { split: { way: 'by chance', within: ['sex', 'age'] } },
      'set aside by chance, within sex and age',
    ],
    [{ split: { way: 'by group', column: 'crp' } }, 'set aside by C-reactive protein'],
    [{ split: { way: 'by date', column: 'age', from: null } }, 'set aside the latest by age'],
    [
      { split: { way: 'by column', column: 'sex', heldOut: ['f', 'x'], sealed: [] } },
      'set aside where sex is f or x',
    ],
    [
      { split: { way: 'by column', column: 'sex', heldOut: [], sealed: [] } },
      'set aside where sex is …',
    ],
    [{ split: { way: 'by rows', from: 3, to: 90 } }, 'set aside rows 3 to 90'],
    [{ folds: { way: 'by chance', count: 10, repeats: 4 } }, '10 folds by chance, 4 times'],
    [{ folds: { way: 'by group', column: 'sex', count: 4 } }, '4 folds by sex'],
    [{ folds: { way: 'each group', column: 'sex' } }, 'a fold for each sex'],
    [{ balancing: { way: 'weights', share: 0.5 } }, 'balanced by weights to 50%'],
    [{ predictorSets: [{ name: 'Labs', predictors: ['crp'] }] }, 'predictors kept as Labs'],
  ])('%j: %s', (part, words) => {
    const changed = { ...design, ...part };
    expect(describeDesignChange(design, changed, dictionary)).toBe(words);
  });

  it.each<[Partial<Design>, Partial<Design>, string]>([
    [{ event: 'yes' }, { event: '' }, 'event open'],
    [{ cases: ['mild'] }, { cases: [] }, 'cases open'],
    [{ caseFrom: 5 }, { caseFrom: null }, 'case value open'],
    [{ costUnit: 'days' }, { costUnit: '' }, 'costs without a unit'],
    [{ needed: ['age'] }, { needed: [] }, 'age need not be known'],
    [
      { levelCosts: { levels: ['a'], costs: [[0]] } },
      { levelCosts: null },
      'every wrong level costs the same',
    ],
    [{ ownCosts: { missed: '', falseAlarm: 'age' } }, {}, 'a false alarm costs the same for all'],
    [{ balancing: { way: 'weights', share: 0.5 } }, {}, 'not balanced'],
    [{ preparations: [{ name: 'Plain', steps: [] }] }, {}, 'preparation Plain forgotten'],
    [{ outcome: 'died' }, { outcome: '' }, 'no outcome'],
  ])('from %j to %j: %s', (had, has, words) => {
    const [before, after] = [had, has].map((part) => ({ ...design, ...part }));
    expect(describeDesignChange(before, after, dictionary)).toBe(words);
  });

  it('says of steps which came, which went, and when only their order is another', () => {
    const [clip, log] = [
      { step: 'clip', columns: 'all', to: 'plausible', share: 0.01 } as const,
      { step: 'reshape', columns: ['age'] as string[], how: 'log', lambda: null } as const,
    ];
    const words = (from: Design['preparation'], to: Design['preparation']) =>
      describeDesignChange(
        { ...design, preparation: from },
        { ...design, preparation: to },
        dictionary,
      );
    expect(words([], [clip])).toBe('step: Clip');
    expect(words([clip, log], [clip])).toBe('without the step: Reshape');
    expect(words([clip, log], [log, clip])).toBe('steps in another order');
    expect(words([clip], [{ ...clip, share: 0.05 }])).toBe('step changed: Clip');
  });

  it('counts predictors when many come or go', () => {
    const many = ['b', 'c', 'd', 'e'];
    const wide = { ...design, predictors: [...design.predictors, ...many] };
    expect(describeDesignChange(design, wide, dictionary)).toBe('with 4 predictors');
    expect(describeDesignChange(wide, design, dictionary)).toBe('without 4 predictors');
  });
});

describe('a change of who is in, in words', () => {
  const nobody: Selection = { exclusions: [], duplicates: null };
  const young = { condition: 'age < 18', reason: 'under age' };

  it('gives the reason that was given, and says what became of duplicates', () => {
    const some: Selection = { ...nobody, exclusions: [young] };
    expect(describeSelectionChange(nobody, some)).toBe('excluded: under age');
    expect(describeSelectionChange(some, nobody)).toBe('no longer excluded: under age');
    expect(describeSelectionChange(some, some)).toBe('');
    const latest = { ...some, duplicates: { keep: 'first' } } as Selection;
    expect(describeSelectionChange(nobody, latest)).toBe(
      'excluded: under age; of duplicates keep first',
    );
    expect(describeSelectionChange(latest, some)).toBe('duplicates all kept');
  });
});

describe('a change of the dictionary in words', () => {
  const change = (edit: (entries: Dictionary) => void) => {
    const after = structuredClone(dictionary);
    edit(after);
    return describeDictionaryChange(dictionary, after);
  };

  it('names the column and what was changed of it', () => {
    expect(change(() => undefined)).toBe('');
    expect(change(([age]) => (age.missingCodes = ['0', '99']))).toBe('age: not known as 0, 99');
    expect(change(([, , crp]) => (crp.format = 'decimal comma'))).toBe(
      'C-reactive protein: decimal comma',
    );
    expect(change(([age, sex]) => (age.role = sex.role = 'set aside'))).toBe(
      'age: set aside; sex: set aside',
    );
  });

  it('says each thing that an entry holds', () => {
    expect(
      change(([age]) => {
        age.kind = 'category';
        age.label = 'Age at visit';
        age.note = 'from the admission form';
        age.plausible = { least: 0, most: 110, beyond: 'kept' };
      }),
    ).toBe('Age at visit: category, label, plausible range, note');
    expect(change(([age]) => (age.levels = ['b', 'a']))).toBe('age: order of levels');
    expect(change(([age]) => (age.spellings = { A: 'a' }))).toBe('age: names of levels');
    expect(change(([age]) => (age.missingCodes = []))).toBe('');
  });

  it('says which columns came and went', () => {
    const derived = { ...dictionary[0], name: 'age in months', formula: '12 * age' };
    expect(change((entries) => entries.push(derived))).toBe('age in months: = 12 * age');
    expect(change((entries) => entries.push({ ...dictionary[0], name: 'ward' }))).toBe(
      'ward: brought in',
    );
    expect(change((entries) => entries.splice(2, 1))).toBe('C-reactive protein taken away');
  });

  it('counts columns when there are many', () => {
    expect(change((entries) => entries.forEach((entry) => (entry.unit = 'kg')))).toBe(
      '4 columns of the dictionary',
    );
  });
});
