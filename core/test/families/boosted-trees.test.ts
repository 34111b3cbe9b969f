import { describe, expect, it } from 'vitest';
import { facetOf, familyOf, settingsSchema, type Settings } from '../../src/families/index.ts';
import { predictionsOf, type Outcome } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import { madePatients } from '../trees/made-patients.ts';

const family = familyOf('boosted-trees');
const fit = (inputs: Inputs, outcome: Outcome, settings: Settings = {}, weights?: Float64Array) =>
  family.fit(inputs, outcome, settingsSchema(family.description.settings).parse(settings), {
    seed: 1,
    weights,
  });
const risksOf = (fitted: ReturnType<typeof fit>, inputs: Inputs, along?: number) => [
  ...predictionsOf(fitted.fitted.predict(inputs, along), 'event').risks,
];

describe('the family of boosted trees', () => {
  const { inputs, outcome } = madePatients(800);
  const levels: Outcome = {
    kind: 'levels',
    levels: ['low', 'middle', 'high'],
    ordered: true,
    values: Int32Array.from(inputs.columns[0], (value) => (value > 0.8 ? 2 : value > -0.3 ? 1 : 0)),
  };

  it('with fewer trees is the fit that had fewer, for an event and for several levels', () => {
    const long = fit(inputs, outcome, { until: 'all', trees: 50 });
    const short = fit(inputs, outcome, { until: 'all', trees: 20 });
    expect(risksOf(long, inputs, 20)).toEqual(risksOf(short, inputs));
    expect(risksOf(long, inputs, 0).every((risk) => risk === risksOf(long, inputs, 0)[0])).toBe(
      true,
    );
    const shares = (trees: number, along?: number) => [
      ...predictionsOf(
        fit(inputs, levels, { until: 'all', trees }).fitted.predict(inputs, along),
        'levels',
      ).shares,
    ];
    expect(shares(20, 5)).toEqual(shares(5));
  });

  it('learns from everybody with as many trees as were best in those watched', () => {
    const best = fit(inputs, outcome);
    const { chosen, plain, lines } = facetOf(best.describe().facets, 'curve')!;
    expect(risksOf(best, inputs)).toEqual(
      risksOf(fit(inputs, outcome, { until: 'all', trees: chosen }), inputs),
    );
    expect(lines[1].values[chosen]).toBeLessThan(plain!);
    // A given number of trees is shown along the same curve.
    const given = fit(inputs, outcome, { until: 'all', trees: 40 });
    const shown = facetOf(given.describe().facets, 'curve')!;
    expect(shown.chosen).toBe(40);
    expect(shown.lines[1].values.slice(0, 20)).toEqual(lines[1].values.slice(0, 20));
  });

  it('says where a direction cannot be kept: several levels, both at once, a level', () => {
    const sentenceOf = (settings: Settings, of: Outcome = outcome) =>
      fit(inputs, of, { until: 'all', trees: 3, ...settings }).warnings.map(
        ({ code, sentence }) => `${code}: ${sentence}`,
      );
    expect(sentenceOf({ rising: ['rising'], falling: ['falling'] })).toEqual([]);
    expect(sentenceOf({ rising: ['rising'] }, levels)).toEqual([
      'direction not kept: Directions are not kept: with several levels there is no one risk to rise or fall.',
    ]);
    expect(sentenceOf({ rising: ['rising'], falling: ['rising'] })).toEqual([
      'direction not kept: No direction is kept for rising: a predictor cannot be said to never rise and never fall.',
    ]);
    expect(sentenceOf({ falling: ['level', 'nowhere'] })[0]).toContain(
      'for level, nowhere: not a number',
    );
  });

  it('gives everybody what all have where no tree helps those watched', () => {
    const noise = madePatients(300, 9);
    const values = Int8Array.from({ length: 300 }, (_, row) => Number((row * 7919) % 11 < 4));
    const fitted = fit(noise.inputs, { kind: 'event', values }, { learningRate: 1, depth: 8 });
    expect(fitted.warnings.map(({ code }) => code)).toEqual(['no split']);
    const share = values.reduce((sum, one) => sum + one, 0) / 300;
    for (const risk of risksOf(fitted, noise.inputs)) expect(risk).toBeCloseTo(share, 9);
    expect(facetOf(fitted.describe().facets, 'importance')).toBeUndefined();
  });

  it('shows what matters to weighted patients: all alike as without, none of them as if not there', () => {
    const plain = { l2: 0, leastWeight: 0 };
    const importance = (weights?: Float64Array) =>
      facetOf(fit(inputs, outcome, plain, weights).describe().facets, 'importance')!.inputs;
    const same = importance(new Float64Array(800).fill(4));
    importance().forEach(({ input, rise, interval }, i) => {
      expect(same[i].input).toBe(input);
      expect(same[i].rise).toBeCloseTo(rise, 9);
      expect(same[i].interval[1]).toBeCloseTo(interval[1], 9);
    });
    // Only those count in whom the outcome follows from nothing.
    const { values } = outcome;
    const odd = values.map((value, row) => (row % 2 === 0 ? value : Number((row * 7919) % 11 < 4)));
    const fitted = (side: number) =>
      facetOf(
        fit(
          inputs,
          { kind: 'event', values: odd },
          { until: 'all', trees: 20 },
          Float64Array.from(odd, (_, row) => (row % 2 === side ? 1 : 1e-9)),
        ).describe().facets,
        'importance',
      )!.inputs;
    expect(fitted(0)[0].interval[0]).toBeGreaterThan(0);
    for (const { interval } of fitted(1)) expect(interval[0]).toBeLessThan(0.01);
  });
});
