import { describe, expect, it } from 'vitest';
import { facetOf, familyOf, FitObstacle, ruleObstacle } from '../../src/families/index.ts';
import { numbersOf, type Outcome } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';

const rule = familyOf('todays-rule');
const column = (values: number[], levels?: string[]): Inputs => ({
  rowCount: values.length,
  names: ['rule'],
  columns: [Float64Array.from(values)],
  levels: [levels],
});
const fit = (inputs: Inputs, outcome: Outcome) =>
  rule.fit(inputs, outcome, { formula: 'x' }, { seed: 1 });
const said = (inputs: Inputs, outcome: Outcome, of = inputs) => [
  ...numbersOf(fit(inputs, outcome).fitted.predict(of)),
];
const events = (...values: number[]): Outcome => ({
  kind: 'event',
  values: Int8Array.from(values),
});

describe('a rule of today', () => {
  it('calls in whom its condition holds for, and says of others what the reference says', () => {
    const inputs = column([1, 0, NaN, 1], ['no', 'yes']);
    const { warnings, describe: show } = fit(inputs, events(1, 0, 0, 0));
    expect(said(inputs, events(1, 0, 0, 0))).toEqual([1, 0, 0.25, 1]);
    expect(warnings.map(({ code }) => code)).toEqual(['rule gives nothing']);
    expect(warnings[0].sentence).toMatch(/^For 1 of 4 patients/);
    expect(facetOf(show().facets, 'rule')).toEqual({
      formula: 'x',
      answers: [
        { answer: 'no', patients: 1, events: 0 },
        { answer: 'yes', patients: 2, events: 1 },
      ],
    });
  });

  it('takes a number from 0 to 1 as the risk, and refuses others', () => {
    expect(said(column([0.2, 1, 0]), events(1, 0, 1))).toEqual([0.2, 1, 0]);
    expect(() => fit(column([3, 7]), events(1, 0))).toThrow(FitObstacle);
    expect(() => fit(column([3, 7]), events(1, 0))).toThrow(/from 3 to 7/);
    expect(() => fit(column([NaN, NaN]), events(1, 0))).toThrow(/gives nothing for any/);
  });

  it('gives a level by its name, whatever the order of its own levels', () => {
    const levels = ['none', 'mild', 'severe'];
    const outcome: Outcome = {
      kind: 'levels',
      values: Int32Array.of(0, 2, 0),
      levels,
      ordered: true,
    };
    const inputs = column([0, 1, NaN], ['severe', 'none']);
    const shares = said(inputs, outcome);
    expect(shares.slice(0, 6)).toEqual([0, 0, 1, 1, 0, 0]);
    expect(shares[6]).toBeCloseTo(2 / 3);
    expect(() => fit(column([0, 1], ['grave', 'none']), outcome)).toThrow(/gives grave/);
    expect(() => fit(column([0.1, 0.4]), outcome)).toThrow(/one of the levels: none, mild/);
  });

  it('gives a number, infinite ones counting as none', () => {
    const outcome: Outcome = { kind: 'number', values: Float64Array.of(80, 100) };
    expect(said(column([85, Infinity]), outcome)).toEqual([85, 90]);
    expect(() => fit(column([0, 1], ['no', 'yes']), outcome)).toThrow(/must give a number/);
  });

  it('says of a text that it is neither yes nor no', () => {
    expect(ruleObstacle({ type: 'text' }, { kind: 'event' })).toMatch(/must give yes or no/);
    const high = { type: 'coded' as const, levels: ['high', 'low'] };
    expect(ruleObstacle(high, { kind: 'event' })).toMatch(/Compare a text/);
  });
});
