import { describe, expect, it } from 'vitest';
import type { Settings } from '../../src/families/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { numbersOf, type Outcome, type OutcomeKind } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import { defaultsOf } from './fit-event.ts';
import { everyFit } from './variants.ts';

const patients = 220;
const draw = randomStream(11, 'units');
const columns = [
  ...Array.from({ length: 4 }, () => Float64Array.from({ length: patients }, () => draw.normal())),
  // Ties, as in a count or a grade.
  Float64Array.from({ length: patients }, () => Math.floor(4 * draw.uniform())),
];
const inputs: Inputs = { rowCount: patients, names: ['a', 'b', 'c', 'd', 'grade'], columns };
const signal = Float64Array.from(
  columns[0],
  (value, i) => value - 0.6 * columns[1][i] + 0.4 * columns[4][i] + 1.2 * draw.normal(),
);
const outcomes: { [K in OutcomeKind]: Outcome<K> } = {
  event: { kind: 'event', values: Int8Array.from(signal, (value) => Number(value > 1.4)) },
  levels: {
    kind: 'levels',
    values: Int32Array.from(signal, (value) => (value > 1.6 ? 2 : value > 0.2 ? 1 : 0)),
    levels: ['none', 'mild', 'severe'],
    ordered: true,
  },
  number: { kind: 'number', values: signal.map((value) => 90 + 20 * value) },
};
const mixes: Settings[] = [0, 0.01, 0.05, 0.5, 1].map((mix) => ({ mix }));

/** Each input in another unit: × 1000, ÷ 100, and a factor that is no power of two or ten. */
const inOtherUnits: Inputs = {
  ...inputs,
  columns: columns.map((column, j) => {
    const factor = [1000, 0.01, 38.67, 0.0555, 100][j];
    return column.map((value) => factor * value);
  }),
};

const sdOf = (values: ArrayLike<number>): number => {
  const all = Array.from(values);
  const mean = all.reduce((sum, value) => sum + value, 0) / all.length;
  return Math.sqrt(all.reduce((sum, value) => sum + (value - mean) ** 2, 0) / all.length);
};

/** Largest difference in SDs of the first. */
const apart = (a: Float64Array, b: Float64Array): number =>
  a.reduce((most, value, i) => Math.max(most, Math.abs(value - b[i])), 0) / Math.max(sdOf(a), 1e-3);

const fits = everyFit
  .filter(([, , { description }]) => !description.fixed)
  .flatMap(([name, kind, family, settings]) =>
    family.description.id === 'penalised' && Object.keys(settings).length === 0
      ? mixes.map((own) => [`${name}, share ${Number(own.mix)}`, kind, family, own] as const)
      : [[name, kind, family, settings] as const],
  );

describe.each(fits)('%s, %s: units', (_name, kind, family, settings) => {
  const fitTo = (on: Inputs, outcome: Outcome) =>
    numbersOf(
      family
        .fit(on, outcome, { ...defaultsOf(family), ...settings }, { seed: 1 })
        .fitted.predict(on),
    );

  it('of inputs change no prediction', () => {
    // Shrinkage towards a sphere is on the scale of the prepared inputs, which are standardised.
    if (Number(settings.round) > 0) return;
    expect(apart(fitTo(inputs, outcomes[kind]), fitTo(inOtherUnits, outcomes[kind]))).toBeLessThan(
      1e-6,
    );
  });

  it('of a number outcome change its predictions in proportion', () => {
    if (kind !== 'number') return;
    const { values } = outcomes.number;
    const plain = fitTo(inputs, outcomes.number);
    for (const [factor, shift] of [
      [75, 0],
      [0.01, -3],
      [18.02, 400],
    ]) {
      const scaled = values.map((value) => factor * value + shift);
      const predicted = fitTo(inputs, { kind: 'number', values: scaled });
      expect(
        apart(
          plain,
          predicted.map((value) => (value - shift) / factor),
        ),
      ).toBeLessThan(1e-6);
    }
  });
});
