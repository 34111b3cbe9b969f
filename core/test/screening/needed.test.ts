import { describe, expect, it } from 'vitest';
import type { Model } from '../../src/model/index.ts';
import {
  alignToModel,
  inputsBehind,
  lackingOf,
  neededOf,
  scorePatient,
  typicalPatient,
  unfamiliarOf,
} from '../../src/screening/index.ts';
import { numbersOf } from '../../src/outcome/index.ts';
import { fittedModel } from './fitted-model.ts';

const { model, table } = fittedModel();
const usual = typicalPatient(model);

/** A rule of low weight and smoking, as a model carries it. */
const columnOf = (name: string) => model.predictors.find((one) => one.name === name)!;
const rule: Model = {
  ...model,
  predictors: [
    {
      ...columnOf('smoke'),
      name: 'light smoker',
      label: 'Light smoker',
      levels: ['no', 'yes'],
      formula: 'lwt < 120 and smoke',
    },
  ],
  sources: [columnOf('lwt'), columnOf('smoke')],
  preparation: {
    patients: 189,
    steps: [],
    inputs: [
      { name: 'light smoker', column: 'light smoker', kind: 'levels', levels: ['no', 'yes'] },
    ],
  },
  family: {
    id: 'todays-rule',
    settings: { formula: 'lwt < 120 and smoke' },
    saved: {
      version: 1,
      json: { usual: { prevalence: 0.31 }, kind: 'event' },
      arrays: {},
    },
  },
};
const said = (values: Record<string, number | string | null>) =>
  numbersOf(scorePatient(rule, values).predictions)[0];

describe('what must be known', () => {
  it('is what the design marks, of the predictors that a model has', () => {
    expect(neededOf(model, ['lwt', 'nowhere'])).toEqual(['lwt']);
    expect(neededOf(model, [])).toEqual([]);
    expect(lackingOf(model, { ...usual, lwt: null, age: null }, ['lwt'])).toMatchObject([
      { name: 'lwt' },
    ]);
    expect(lackingOf(model, usual, ['lwt'])).toEqual([]);
  });

  it('is all that a rule gives, and named by what the rule reads', () => {
    expect(neededOf(rule, [])).toEqual(['light smoker']);
    expect(inputsBehind(rule, 'light smoker').map(({ name }) => name)).toEqual(['lwt', 'smoke']);
    const lacking = (values: Record<string, number | string | null>) =>
      lackingOf(rule, values, neededOf(rule, [])).map(({ name }) => name);
    expect(lacking({ lwt: null, smoke: 'yes' })).toEqual(['lwt']);
    expect(lacking({ lwt: 110, smoke: 'yes' })).toEqual([]);
    // A heavy patient is no light smoker, whether a smoker or not.
    expect(lacking({ lwt: 150, smoke: null })).toEqual([]);
  });
});

describe('a rule as a model', () => {
  it('is worked out from the values of the patient, and remarks on nobody', () => {
    expect(said({ lwt: 110, smoke: 'yes' })).toBe(1);
    expect(said({ lwt: 110, smoke: 'no' })).toBe(0);
    expect(said({ lwt: null, smoke: 'yes' })).toBe(0.31);
    expect(unfamiliarOf(rule, { lwt: 900, smoke: 'yes' })).toEqual([]);
  });

  it('meets a list that lacks what it reads, and says what that means', () => {
    const place = table.dictionary.findIndex(({ name }) => name === 'smoke');
    const without = {
      ...table,
      dictionary: table.dictionary.filter((_, i) => i !== place),
      columns: table.columns.filter((_, i) => i !== place),
    };
    const [met] = alignToModel(rule, without).predictors;
    expect(met.absent).toBe(true);
    expect(met.treatment).toMatch(/the rule gives nothing without it, so they are not scored/);
    const [there] = alignToModel(rule, table).predictors;
    expect([there.absent, there.gaps, there.treatment]).toEqual([false, 0, '']);
  });
});
