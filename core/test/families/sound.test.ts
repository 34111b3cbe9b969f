import { describe, expect, it } from 'vitest';
import { facetOf, FitObstacle, familyOf, type FitResult } from '../../src/families/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { numbersOf, widthOf, type Outcome, type OutcomeKind } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import { defaultsOf } from './fit-event.ts';
import { everyFit } from './variants.ts';

const names = ['none', 'mild', 'severe'];
const inputsOf = (columns: Float64Array[]): Inputs => ({
  rowCount: columns[0].length,
  names: columns.map((_, j) => `x${j}`),
  columns,
});

/** Patients whose outcome follows from the inputs, but for as many as `noise` moves over a border. */
function nearlySeparated(patients: number, noise: number, seed: number) {
  const draw = randomStream(seed, 'nearly separated');
  const columns = Array.from({ length: 3 }, () =>
    Float64Array.from({ length: patients }, () => draw.normal()),
  );
  const score = columns[0].map((value, i) => value + columns[1][i] + noise * draw.normal());
  const outcomes: { [K in OutcomeKind]: Outcome<K> } = {
    event: { kind: 'event', values: Int8Array.from(score, (value) => Number(value > 1)) },
    levels: {
      kind: 'levels',
      values: Int32Array.from(score, (value) => Number(value > -0.5) + Number(value > 1)),
      levels: names,
      ordered: true,
    },
    number: { kind: 'number', values: score },
  };
  return { inputs: inputsOf(columns), outcomes };
}

/** Fits and predicts; a family may refuse with a sentence instead. */
function soundly(run: () => FitResult, on: Inputs): FitResult | undefined {
  let result: FitResult;
  try {
    result = run();
  } catch (error) {
    expect(error).toBeInstanceOf(FitObstacle);
    expect((error as Error).message).toMatch(/^[A-Z].*\.$/s);
    return undefined;
  }
  const predictions = result.fitted.predict(on);
  const numbers = numbersOf(predictions);
  expect(numbers.every(Number.isFinite)).toBe(true);
  if (predictions.kind !== 'number') {
    expect(numbers.every((share) => share >= 0 && share <= 1)).toBe(true);
    const width = widthOf(predictions);
    if (predictions.kind === 'levels')
      for (let i = 0; i < on.rowCount; i++) {
        const own = numbers.subarray(width * i, width * (i + 1));
        expect(own.reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 9);
      }
  }
  const likelihood = facetOf(result.describe().facets, 'likelihood');
  if (likelihood) {
    expect(Number.isFinite(likelihood.logLikelihood)).toBe(true);
    // Bias-reduced estimates make another function greatest.
    if (likelihood.penalised !== undefined) return result;
    expect(likelihood.residualDeviance).toBeLessThanOrEqual(likelihood.nullDeviance + 1e-6);
  }
  return result;
}

const able = everyFit.filter(([, , { description }]) => !description.fixed);

describe.each(able)('%s, %s', (_name, kind, family, settings) => {
  const fit = (inputs: Inputs, outcome: Outcome) =>
    family.fit(inputs, outcome, { ...defaultsOf(family), ...settings }, { seed: 1 });

  it('predicts soundly where the outcome is separated, or nearly so', () => {
    for (const [patients, noise, seed] of [
      [60, 0, 1],
      [60, 0.05, 2],
      [40, 0.1, 3],
      [120, 0.02, 4],
    ]) {
      const { inputs, outcomes } = nearlySeparated(patients, noise, seed);
      soundly(() => fit(inputs, outcomes[kind]), inputs);
    }
  });

  it('predicts soundly where the outcome has one value, and where an input does not vary', () => {
    const { inputs, outcomes } = nearlySeparated(50, 0.5, 5);
    const one = outcomes[kind];
    for (const value of kind === 'event' ? [0, 1] : [1]) {
      const constant = { ...one, values: one.values.map(() => value) } as Outcome;
      soundly(() => fit(inputs, constant), inputs);
    }
    const still = {
      ...inputs,
      columns: [...inputs.columns.slice(1), new Float64Array(50).fill(7)],
    };
    soundly(() => fit(still, one), still);
  });

  // A table holds no number beyond 1e100.
  it('predicts soundly from values as large and as small as a table holds', () => {
    const { inputs, outcomes } = nearlySeparated(60, 0.8, 6);
    for (const extreme of [1e100, -1e100, 1e-300]) {
      const columns = inputs.columns.map((column) => column.slice());
      columns[0][7] = extreme;
      const odd = { ...inputs, columns };
      soundly(() => fit(odd, outcomes[kind]), odd);
      // A model of ordinary patients, asked about an extraordinary one.
      const { fitted } = fit(inputs, outcomes[kind]);
      const numbers = numbersOf(fitted.predict(odd));
      expect(numbers.some(Number.isNaN)).toBe(false);
    }
  });

  it('predicts soundly from very few patients', () => {
    for (const patients of [4, 6, 9]) {
      const { inputs, outcomes } = nearlySeparated(patients, 0.5, 7);
      soundly(() => fit(inputs, outcomes[kind]), inputs);
    }
  });
});

describe('the proportional odds model', () => {
  const family = familyOf('proportional-odds');
  const fit = ({ inputs, outcomes }: ReturnType<typeof nearlySeparated>) =>
    family.fit(inputs, outcomes.levels, defaultsOf(family), { seed: 1 });

  it('stays sound on 320 cohorts that are separated or nearly so, and says where they are', () => {
    let separated = 0;
    for (let seed = 0; seed < 320; seed++) {
      const noise = [0, 0.01, 0.03, 0.1][seed % 4];
      const cohort = nearlySeparated(20 + 5 * (seed % 9), noise, 1000 + seed);
      const result = soundly(() => fit(cohort), cohort.inputs);
      const isSaid = result?.warnings.some(({ code }) => code === 'separation');
      if (noise === 0) expect(isSaid).toBe(true);
      separated += Number(isSaid);
    }
    expect(separated).toBeGreaterThan(80);
  });
});
