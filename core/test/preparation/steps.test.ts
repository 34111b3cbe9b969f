import { describe, expect, it } from 'vitest';
import { randomStream } from '../../src/numeric/index.ts';
import {
  applyPreparation,
  effectsLike,
  effectsOf,
  fitPreparation,
  preparationSchema,
  stepOf,
  usualSteps,
  type PredictorColumn,
  type StepId,
} from '../../src/preparation/index.ts';
import { eventOutcome } from '../families/fit-event.ts';

const count = 240;
const draw = randomStream(31, 'steps');
const number = (gapShare: number) =>
  Float64Array.from({ length: count }, () =>
    draw.uniform() < gapShare ? NaN : Math.round(50 + 12 * draw.normal()),
  );
const codes = (shares: number[], gapShare: number) =>
  Int32Array.from({ length: count }, () => {
    if (draw.uniform() < gapShare) return -1;
    let rest = draw.uniform();
    const place = shares.findIndex((share) => (rest -= share) < 0);
    return place < 0 ? 0 : place;
  });
/** Numbers and levels, with gaps many and few, with thin levels, and one that never varies. */
const columns: PredictorColumn[] = [
  { name: 'age', type: 'number', values: number(0) },
  { name: 'albumin', type: 'number', values: number(0.2) },
  { name: 'always', type: 'number', values: new Float64Array(count).fill(7) },
  {
    name: 'site',
    type: 'coded',
    codes: codes([0.6, 0.37, 0.02, 0.01], 0.1),
    levels: ['north', 'south', 'east', 'west'],
  },
  {
    name: 'grade',
    type: 'coded',
    ordered: true,
    codes: codes([0.5, 0.3, 0.2], 0),
    levels: ['I', 'II', 'III'],
  },
];
const rows = Array.from({ length: count }, (_, row) => row);
const learnt = rows.filter((row) => row % 3 !== 0);
const others = rows.filter((row) => row % 3 === 0);
const events = rows.map(() => Number(draw.uniform() < 0.35));
const learn = (of: PredictorColumn[], from = learnt, steps?: StepId[]) =>
  fitPreparation(
    of,
    from,
    eventOutcome(from.map((row) => events[row])),
    steps?.map((step) => ({ step })),
  );

describe('the list of steps', () => {
  const { preparation, inputs } = learn(columns);

  it('is kept in its order, and each step says what it is', () => {
    expect(preparation.steps.map(({ step }) => step)).toEqual(usualSteps);
    for (const id of usualSteps) expect(stepOf(id).about).toMatch(/^[A-Z].*\.$/);
  });

  it('reads back from JSON to the same bit, for patients it has never seen too', () => {
    const json = JSON.parse(JSON.stringify(preparation)) as unknown;
    const again = preparationSchema.parse(json);
    expect(applyPreparation(again, columns, others)).toEqual(
      applyPreparation(preparation, columns, others),
    );
  });

  it.each(usualSteps)('does not read a %s whose figures are not there', (id) => {
    const broken = structuredClone(preparation) as { steps: { step: string; learned: unknown }[] };
    broken.steps.find(({ step }) => step === id)!.learned = 'nothing';
    expect(preparationSchema.safeParse(broken).success).toBe(false);
  });

  it('learns the same whatever the order of patients', () => {
    const turned = [...learnt].reverse();
    // Sums in another order differ in their last bits.
    const close = (value: unknown): unknown =>
      JSON.parse(JSON.stringify(value), (_, one: unknown) =>
        typeof one === 'number' ? Number(one.toPrecision(10)) : one,
      );
    expect(close(learn(columns, turned).preparation)).toEqual(close(preparation));
  });

  it('learns nothing from patients outside', () => {
    const spoiled = columns.map((column): PredictorColumn => {
      if (column.type === 'number') {
        const values = column.values.slice();
        for (const row of others) values[row] = -1000 * row;
        return { ...column, values };
      }
      const own = column.codes.slice();
      for (const row of others) own[row] = -1;
      return { ...column, codes: own };
    });
    expect(learn(spoiled).preparation).toEqual(preparation);
  });

  it('says of every predictor what is done to it, and of no other column', () => {
    const named = effectsOf(preparation).map(({ column }) => column);
    expect(new Set(named)).toEqual(new Set(columns.map(({ name }) => name)));
    expect(effectsLike(preparation, 'filled').map(({ gaps }) => gaps)).toEqual(
      columns.map((column) => gapsIn(column, learnt)),
    );
    expect(effectsLike(preparation, 'left out')).toEqual([
      { what: 'left out', column: 'always', why: 'no variation' },
    ]);
    expect(
      effectsLike(preparation, 'level pooled')
        .map(({ level }) => level)
        .sort(),
    ).toEqual(['east', 'west']);
  });

  it('gives inputs without gaps, numbers with mean 0 and SD 1', () => {
    for (const [i, column] of inputs.columns.entries()) {
      expect(column.every(Number.isFinite)).toBe(true);
      if (preparation.inputs[i].kind !== 'number') continue;
      const mean = column.reduce((sum, value) => sum + value, 0) / column.length;
      const square = column.reduce((sum, value) => sum + value ** 2, 0) / column.length;
      expect(Math.abs(mean)).toBeLessThan(1e-12);
      expect(square).toBeCloseTo(1, 12);
    }
  });
});

describe('fewer steps, or others', () => {
  it('without any, columns go in as they are: gaps stay, levels are places among those of then', () => {
    const { preparation, inputs } = learn(columns, learnt, []);
    expect(preparation.inputs.map(({ kind }) => kind)).toEqual([
      'number',
      'number',
      'number',
      'levels',
      'levels',
    ]);
    expect(inputs.columns[1].filter(Number.isNaN)).toHaveLength(gapsIn(columns[1], learnt));
    const turned: PredictorColumn = {
      ...(columns[3] as PredictorColumn & { type: 'coded' }),
      levels: ['south', 'north', 'new'],
      codes: Int32Array.of(0, 1, 2, -1),
    };
    const few = columns.map((column) => (column.name === 'site' ? turned : column));
    const later = applyPreparation(preparation, few, [0, 1, 2, 3]);
    expect(Array.from(later.columns[3])).toEqual([1, 0, NaN, NaN]);
    expect(later.levels?.[3]).toEqual(['north', 'south', 'east', 'west']);
  });

  it('only fills where only filling is asked for', () => {
    const { preparation, inputs } = learn(columns.slice(0, 2), learnt, ['fill gaps']);
    expect(preparation.inputs.map(({ name }) => name)).toEqual(['age', 'albumin']);
    const known = learnt.map((row) => (columns[1] as { values: Float64Array }).values[row]);
    const sorted = known.filter((value) => !Number.isNaN(value)).sort((a, b) => a - b);
    const middle = (sorted.length - 1) / 2;
    const median = (sorted[Math.floor(middle)] + sorted[Math.ceil(middle)]) / 2;
    expect(Array.from(inputs.columns[1])).toEqual(
      known.map((value) => (Number.isNaN(value) ? median : value)),
    );
  });

  it('does not take patients of other columns for those it knows', () => {
    const { preparation } = learn(columns);
    const fewer = columns.filter(({ name }) => name !== 'albumin');
    expect(() => applyPreparation(preparation, fewer, [0])).toThrow(/not those/);
  });
});

function gapsIn(column: PredictorColumn, among: number[]): number {
  return among.filter((row) =>
    column.type === 'number' ? Number.isNaN(column.values[row]) : column.codes[row] < 0,
  ).length;
}
