import { describe, expect, it } from 'vitest';
import { randomStream } from '../../src/numeric/index.ts';
import {
  applyPreparation,
  applyToEach,
  arrangedSteps,
  arrangedStepSchema,
  effectsOf,
  fitPreparation,
  learningInputs,
  preparationSchema,
  stepOf,
  withUsual,
  type ArrangedStep,
  type Effect,
  type PredictorColumn,
} from '../../src/preparation/index.ts';
import { eventOutcome } from '../families/fit-event.ts';

const count = 600;
const draw = randomStream(17, 'arranged steps');
const rows = Array.from({ length: count }, (_, row) => row);
const learnt = rows.filter((row) => row % 3 !== 0);
const others = rows.filter((row) => row % 3 === 0);
const events = rows.map(() => Number(draw.uniform() < 0.35));

const number = (name: string, value: () => number, gaps: number): PredictorColumn => ({
  name,
  type: 'number',
  values: Float64Array.from(rows, () => (draw.uniform() < gaps ? NaN : value())),
});
const coded = (name: string, levels: string[], gaps: number, ordered = false): PredictorColumn => ({
  name,
  type: 'coded',
  ordered,
  levels,
  codes: Int32Array.from(rows, () =>
    draw.uniform() < gaps ? -1 : Math.floor(levels.length * draw.uniform() ** 2),
  ),
});

/** Made-up patients: skewed, with gaps, with levels that few have, one column almost another. */
const age = number('age', () => 40 + 40 * draw.uniform(), 0);
const columns: PredictorColumn[] = [
  age,
  number('creatinine', () => Math.exp(4.4 + 0.5 * draw.normal()), 0.1),
  { ...number('albumin', () => 38 + 5 * draw.normal(), 0.15), plausible: { least: 30, most: 46 } },
  number('glucose', () => 5 + draw.normal(), 0.05),
  {
    name: 'age in months',
    type: 'number',
    values: Float64Array.from(rows, (row) => 12 * valuesOf(age)[row] + draw.normal()),
  },
  coded('ward', ['A', 'B', 'C', 'D', 'E', 'F', 'G', 'H'], 0.04),
  coded('grade', ['I', 'II', 'III'], 0, true),
];

function valuesOf(column: PredictorColumn): Float64Array {
  return column.type === 'number' ? column.values : Float64Array.from(column.codes);
}

/** A step, as far as it must be said. */
const ask = (step: Record<string, unknown>): ArrangedStep => arrangedStepSchema.parse(step);

/** Each step, in every way that there is. */
const every: [string, ArrangedStep][] = (
  [
    { step: 'not known', column: 'creatinine', below: 40, above: 300 },
    { step: 'not known', column: 'ward', values: ['B'] },
    { step: 'rename levels', column: 'ward', into: { A: 'first', B: 'first' } },
    { step: 'rare levels', columns: 'all', fewer: 40 },
    { step: 'leave out columns', columns: 'all', why: 'gaps', share: 0.12 },
    { step: 'leave out columns', columns: 'all', why: 'no variation' },
    { step: 'leave out columns', columns: 'all', why: 'alike', correlation: 0.98 },
    { step: 'leave out patients', share: 0.25 },
    { step: 'fill', columns: ['albumin', 'ward'], how: 'mean' },
    { step: 'fill', columns: 'all', how: 'median' },
    { step: 'fill', columns: 'all', how: 'most common' },
    { step: 'fill', columns: ['albumin'], how: 'constant', value: '40', mark: false },
    { step: 'fill', columns: ['ward'], how: 'own level' },
    { step: 'fill', columns: 'all', how: 'nearest patients', neighbours: 3 },
    { step: 'fill', columns: 'all', how: 'chained regressions', rounds: 3 },
    { step: 'clip', columns: 'all', to: 'plausible' },
    { step: 'clip', columns: 'all', to: 'quantiles', share: 0.05 },
    { step: 'reshape', columns: ['creatinine'], how: 'log' },
    { step: 'reshape', columns: ['creatinine'], how: 'square root' },
    { step: 'reshape', columns: ['creatinine', 'albumin'], how: 'Box–Cox' },
    { step: 'reshape', columns: 'all', how: 'Yeo–Johnson' },
    { step: 'reshape', columns: ['creatinine'], how: 'Yeo–Johnson', lambda: 0.5 },
    { step: 'rescale', columns: 'all', how: 'mean and SD' },
    { step: 'rescale', columns: 'all', how: '0 to 1' },
    { step: 'rescale', columns: 'all', how: 'median and quartiles' },
    { step: 'code levels', columns: 'all', how: 'indicators', reference: 'II' },
    { step: 'code levels', columns: ['grade'], how: 'order' },
    { step: 'code levels', columns: ['ward'], how: 'case share' },
    { step: 'splines', columns: ['age', 'albumin'], knots: 4 },
    {
      step: 'products',
      pairs: [
        ['age', 'albumin'],
        ['age', 'age'],
      ],
    },
    { step: 'components', columns: 'all', keep: { share: 0.8 } },
    { step: 'components', columns: ['age', 'albumin', 'glucose'], keep: { number: 2 } },
    { step: 'unusualness', columns: 'all' },
    { step: 'unusualness', columns: ['creatinine', 'ward'] },
  ] as Record<string, unknown>[]
).map((step) => [JSON.stringify(step), ask(step)]);

const learn = (steps: ArrangedStep[], of = columns, from = learnt) =>
  fitPreparation(of, from, eventOutcome(from.map((row) => events[row])), withUsual(steps));

const effects = (steps: ArrangedStep[]) => effectsOf(learn(steps).preparation);
const about = <What extends Effect['what']>(what: What, steps: ArrangedStep[]) =>
  effects(steps).filter(
    (effect): effect is Extract<Effect, { what: What }> => effect.what === what,
  );

const backwards = (column: PredictorColumn): PredictorColumn =>
  column.type === 'number'
    ? { ...column, values: column.values.toReversed() }
    : { ...column, codes: column.codes.toReversed() };

it('has a sample of every step, and each says what it is', () => {
  expect(new Set(every.map(([, { step }]) => step))).toEqual(new Set(arrangedSteps));
  for (const id of arrangedSteps) {
    expect(stepOf(id).about).toMatch(/^[A-Z].*\.$/);
    expect(stepOf(id).name).toMatch(/^[A-Z]/);
  }
});

describe.each(every)('%s', (_, step) => {
  const { preparation, inputs, kept } = learn([step]);

  it('gives finite inputs only, of those who are learned from', () => {
    expect(inputs.rowCount).toBe(kept?.length ?? learnt.length);
    expect(inputs.names.length).toBe(new Set(inputs.names).size);
    for (const column of inputs.columns) {
      expect(column).toHaveLength(inputs.rowCount);
      expect(column.every(Number.isFinite)).toBe(true);
    }
  });

  it('learns nothing of other patients', () => {
    const changed = columns.map((column) =>
      column.type === 'number'
        ? { ...column, values: column.values.map((value, row) => (row % 3 ? value : 999 - value)) }
        : { ...column, codes: column.codes.map((code, row) => (row % 3 ? code : 0)) },
    );
    expect(learn([step], changed).preparation).toEqual(preparation);
  });

  it('reads back from JSON to the same bit, for patients it has never seen too', () => {
    const again = preparationSchema.parse(JSON.parse(JSON.stringify(preparation)));
    expect(applyPreparation(again, columns, others)).toEqual(
      applyPreparation(preparation, columns, others),
    );
    expect(learningInputs(again, columns, learnt)).toEqual({ inputs, ...(kept && { kept }) });
  });

  it('does several tables that share columns as it does each alone', () => {
    const tables = [columns, ...columns.map((_, j) => columns.with(j, backwards(columns[j])))];
    expect(applyToEach(preparation, tables, others)).toEqual(
      tables.map((own) => applyPreparation(preparation, own, others)),
    );
  });

  it('does one patient as it does many', () => {
    const all = applyPreparation(preparation, columns, others);
    const alone = applyPreparation(preparation, columns, [others[4]]);
    all.columns.forEach((column, j) => expect(alone.columns[j][0]).toBe(column[4]));
  });

  it('takes a later cohort in another order, with levels and values nobody had', () => {
    const later = columns
      .map((column): PredictorColumn =>
        column.type === 'number'
          ? { ...column, values: Float64Array.from([-3, 0, NaN, 1e9]) }
          : {
              ...column,
              levels: [...column.levels, 'new'],
              codes: Int32Array.from([0, -1, 1, column.levels.length]),
            },
      )
      .reverse();
    const order = columns.map(({ name }) => later.find((one) => one.name === name)!);
    const made = applyPreparation(preparation, order, [0, 1, 2, 3]);
    for (const column of made.columns) expect(column.every(Number.isFinite)).toBe(true);
  });
});

describe('what each does, by hand', () => {
  const known = (name: string) => {
    const values = valuesOf(columns.find((column) => column.name === name)!);
    return learnt.map((row) => values[row]).filter((value) => !Number.isNaN(value));
  };

  it('takes values as not known, and counts whose', () => {
    const [effect] = about('made unknown', [
      ask({ step: 'not known', column: 'creatinine', below: 60, above: 150 }),
    ]);
    expect(effect.patients).toBe(known('creatinine').filter((x) => x < 60 || x > 150).length);
    const filled = about('filled', [ask({ step: 'not known', column: 'creatinine', below: 60 })]);
    const gaps = learnt.length - known('creatinine').filter((x) => x >= 60).length;
    expect(filled.find(({ column }) => column === 'creatinine')!.gaps).toBe(gaps);
  });

  it('scores as unusual who has what nobody has, by the columns that are named alone', () => {
    const strange: PredictorColumn[] = columns.map((column) =>
      column.type === 'number'
        ? { ...column, values: Float64Array.from([valuesOf(column)[1], 5000]) }
        : { ...column, codes: Int32Array.from([0, 0]) },
    );
    const scores = (names: string[]) => {
      const { preparation } = learn([ask({ step: 'unusualness', columns: names })]);
      const made = applyPreparation(preparation, strange, [0, 1]);
      const place = made.names.indexOf('unusualness');
      expect(preparation.inputs[place]).toMatchObject({ kind: 'made', columns: names });
      const { mean = 0, sd = 1 } = preparation.inputs[place];
      return Array.from(made.columns[place], (value) => mean + sd * value);
    };
    const [usual, unusual] = scores(['age', 'creatinine', 'albumin']);
    expect(unusual).toBeGreaterThan(usual + 0.1);
    expect(unusual).toBeGreaterThan(0.6);
    const [one, other] = scores(['ward']);
    expect(other).toBeCloseTo(one, 12);
  });

  it('makes nothing unusual of columns that are not there', () => {
    const { inputs, preparation } = learn([ask({ step: 'unusualness', columns: ['none'] })]);
    expect(inputs.names).not.toContain('unusualness');
    expect(effectsOf(preparation).some(({ what }) => what === 'made')).toBe(false);
  });

  it('merges levels under one name', () => {
    const { inputs } = learn([
      ask({ step: 'rename levels', column: 'grade', into: { II: 'more', III: 'more' } }),
    ]).preparation;
    expect(inputs.filter(({ column }) => column === 'grade').map(({ name }) => name)).toEqual([
      'grade = more',
    ]);
  });

  it('leaves out the later of two that say nearly the same, and says which and how much', () => {
    const [effect] = effects([
      ask({ step: 'leave out columns', columns: 'all', why: 'alike', correlation: 0.98 }),
    ]);
    expect(effect).toMatchObject({ what: 'left out', column: 'age in months', other: 'age' });
  });

  it('learns from nobody with many gaps, and predicts everybody', () => {
    const steps = [ask({ step: 'leave out patients', share: 0.25 })];
    const { preparation, kept } = learn(steps);
    const gaps = (row: number) =>
      columns.filter((column) =>
        column.type === 'number' ? Number.isNaN(column.values[row]) : column.codes[row] < 0,
      ).length;
    const stay = learnt.flatMap((row, i) => (gaps(row) < 0.25 * columns.length ? [i] : []));
    expect([...kept!]).toEqual(stay);
    expect(preparation.patients).toBe(stay.length);
    expect(applyPreparation(preparation, columns, learnt).rowCount).toBe(learnt.length);
    const [effect] = about('patients left out', steps);
    expect(effect).toMatchObject({ patients: learnt.length - stay.length, of: learnt.length });
  });

  it('fills with the mean, and marks it where that is wished', () => {
    const mean = known('albumin').reduce((sum, x) => sum + x, 0) / known('albumin').length;
    const fill = { step: 'fill', columns: ['albumin'], how: 'mean' };
    const [effect] = about('filled', [ask(fill)]);
    expect(effect).toMatchObject({ how: 'mean', gaps: learnt.length - known('albumin').length });
    expect(effect.number).toBeCloseTo(mean, 12);
    const names = (step: ArrangedStep) => learn([step]).inputs.names;
    expect(names(ask(fill))).toContain('albumin not known');
    expect(names(ask({ ...fill, mark: false }))).not.toContain('albumin not known');
  });

  it('marks gaps that come together once, whichever step fills which of them', () => {
    // Three columns that are empty for the same patients, and one that is for others.
    const empty = (name: string, every: number, at: number): PredictorColumn => ({
      name,
      type: 'number',
      values: Float64Array.from(rows, (row) => (row % every === at ? NaN : draw.normal())),
    });
    const own = [empty('a', 7, 1), empty('b', 7, 1), empty('c', 7, 1), empty('d', 8, 3)];
    const outcome = eventOutcome(learnt.map((row) => events[row]));
    const fill = (column: string, mark = true) =>
      ask({ step: 'fill', columns: [column], how: 'mean', mark });
    const gapsIn = (steps: ArrangedStep[]) => {
      const { preparation, inputs } = fitPreparation(own, learnt, outcome, withUsual(steps));
      const marks = inputs.names.filter((name) => name.endsWith('not known')).sort();
      const place = inputs.names.indexOf(marks[0]);
      // It says so of later patients too, and of one who lacks most of them.
      const later = applyPreparation(preparation, own, others);
      others.forEach((row, i) => expect(later.columns[place][i] > 0).toBe(row % 7 === 1));
      return marks;
    };
    const usual = ['a, b, c not known', 'd not known'];
    expect(gapsIn([])).toEqual(usual);
    expect(gapsIn([fill('a'), fill('b')])).toEqual(usual);
    expect(gapsIn([fill('d'), fill('c'), fill('b'), fill('a')])).toEqual(usual);
    // Whoever wants no mark of one gets that of the others.
    expect(gapsIn([fill('a', false)])[0]).toBe('b, c not known');
  });

  it('clips to what is plausible', () => {
    const [effect] = about('clipped', [ask({ step: 'clip', columns: 'all', to: 'plausible' })]);
    const beyond = known('albumin').filter((x) => x < 30 || x > 46).length;
    expect(effect).toEqual({
      what: 'clipped',
      column: 'albumin',
      low: 30,
      high: 46,
      patients: beyond,
    });
  });

  it('says what it cannot do', () => {
    const shifted = columns.map((column) =>
      column.name === 'glucose' && column.type === 'number'
        ? { ...column, values: column.values.map((x) => x - 5) }
        : column,
    );
    const { preparation } = learn(
      [ask({ step: 'reshape', columns: ['glucose'], how: 'log' })],
      shifted,
    );
    expect(effectsOf(preparation)[0]).toEqual({
      what: 'left as it is',
      column: 'glucose',
      why: 'some are 0 or below',
    });
  });

  it('honours the order of steps', () => {
    const first = ask({ step: 'reshape', columns: ['creatinine'], how: 'log' });
    const second = ask({ step: 'rescale', columns: ['creatinine'], how: 'mean and SD' });
    const [one, other] = [
      [first, second],
      [second, first],
    ].map((steps) => learn(steps).preparation);
    expect(one.steps.slice(0, 2).map(({ step }) => step)).toEqual(['reshape', 'rescale']);
    // A standardised number is below 0 in many: it has no logarithm, and stays as it is.
    expect(effectsOf(other)[1]).toMatchObject({ what: 'left as it is' });
    expect(applyPreparation(one, columns, others)).not.toEqual(
      applyPreparation(other, columns, others),
    );
  });

  it('carries what one step has made to the next', () => {
    const { inputs } = learn([
      ask({ step: 'splines', columns: ['age'], knots: 3 }),
      ask({ step: 'products', pairs: [['age, bend 1', 'albumin']] }),
    ]).preparation;
    const made = inputs.find(({ name }) => name === 'age, bend 1 × albumin')!;
    expect(made).toMatchObject({ kind: 'made', columns: ['age', 'albumin'] });
  });

  it('keeps components with the share of variance asked for, and takes their columns away', () => {
    const steps = [ask({ step: 'components', columns: 'all', keep: { share: 0.7 } })];
    const made = about('made', steps);
    const carried = made.reduce((sum, { share = 0 }) => sum + share, 0);
    expect(carried).toBeGreaterThanOrEqual(0.7);
    expect(carried - made.at(-1)!.share!).toBeLessThan(0.7);
    expect(learn(steps).inputs.names).not.toContain('age');
  });
});

it('fills from the nearest patients by Gower’s distance, counted out by hand', () => {
  const step = ask({ step: 'fill', columns: 'all', how: 'nearest patients', neighbours: 3 });
  const { preparation } = fitPreparation(
    columns,
    learnt,
    eventOutcome(learnt.map((row) => events[row])),
    [step],
  );
  const range = (column: PredictorColumn) => {
    const all = learnt.map((row) => valuesOf(column)[row]).filter((x) => !Number.isNaN(x));
    return Math.max(...all) - Math.min(...all);
  };
  const ranges = new Map(columns.map((column) => [column.name, range(column)]));
  const isKnown = (column: PredictorColumn, row: number) =>
    column.type === 'number' ? !Number.isNaN(column.values[row]) : column.codes[row] >= 0;
  const apart = (a: number, b: number) => {
    const parts = columns.flatMap((column) => {
      if (!isKnown(column, a) || !isKnown(column, b)) return [];
      const [x, y] = [valuesOf(column)[a], valuesOf(column)[b]];
      return [
        column.type === 'coded' ? Number(x !== y) : Math.abs(x - y) / ranges.get(column.name)!,
      ];
    });
    return parts.reduce((sum, part) => sum + part, 0) / parts.length;
  };
  const albumin = columns[2];
  const filled = applyPreparation(preparation, columns, others);
  const place = filled.names.indexOf('albumin');
  let checked = 0;
  others.forEach((row, i) => {
    if (isKnown(albumin, row)) return;
    const near = learnt
      .filter((other) => isKnown(albumin, other))
      .map((other) => ({ far: apart(row, other), value: valuesOf(albumin)[other] }))
      .sort((a, b) => a.far - b.far)
      .slice(0, 3);
    const mean = near.reduce((sum, { value }) => sum + value, 0) / 3;
    expect(filled.columns[place][i]).toBeCloseTo(mean, 10);
    checked++;
  });
  expect(checked).toBeGreaterThan(20);
});
