import { describe, expect, it } from 'vitest';
import {
  defaultDesign,
  describeDesignChange,
  describeDictionaryChange,
  type Design,
} from '../../src/design/index.ts';
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
  ])('%j: %s', (part, words) => {
    expect(describeDesignChange(design, { ...design, ...part }, dictionary)).toBe(words);
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

  it('counts columns when there are many', () => {
    expect(change((entries) => entries.forEach((entry) => (entry.unit = 'kg')))).toBe(
      '4 columns of the dictionary',
    );
  });
});
