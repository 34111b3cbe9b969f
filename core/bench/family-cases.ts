import { familyOf, settingsSchema, type Settings } from '../src/families/index.ts';
import { randomStream } from '../src/numeric/index.ts';
import type { Outcome } from '../src/outcome/index.ts';
import type { Inputs } from '../src/preparation/index.ts';
import type { BenchCase } from './cases.ts';

export const familyCases: BenchCase[] = [
  {
    name: 'lasso path of 100 strengths with 10 inner folds, an event, 10,000 patients x 50',
    prepare: () => fitting('penalised', 10_000, 50, 'event'),
  },
  {
    name: 'lasso path of 100 strengths with 10 inner folds, a number, 10,000 patients x 50',
    prepare: () => fitting('penalised', 10_000, 50, 'number'),
  },
  {
    name: 'bias-reduced logistic regression, 2,000 patients x 24',
    prepare: () => fitting('logistic', 2000, 24, 'event', { estimates: 'reduced, true share' }),
  },
  {
    name: 'naive Bayes with normal curves fitted and predicted, 300,000 patients x 20',
    prepare: () => fitting('naive-bayes', 300_000, 20, 'event'),
  },
  {
    name: 'linear discriminants fitted and predicted, 100,000 patients x 20',
    prepare: () => fitting('discriminants', 100_000, 20, 'event'),
  },
  {
    name: 'nearest patients: 10,000 among 50,000 x 20, fifteen each',
    prepare: () => asking(50_000, 10_000, 20, { neighboursBy: 'given', neighbours: 15 }),
  },
  {
    name: 'support vectors, radial, with risks by three inner folds, 5,000 patients x 20',
    prepare: () => fitting('support-vectors', 5000, 20, 'event'),
  },
  {
    name: 'neural network of 10 units, 100 epochs, 50,000 patients x 20',
    prepare: () =>
      fitting('neural-network', 50_000, 20, 'event', {
        units: 10,
        epochs: 100,
        starts: 1,
        early: false,
      }),
  },
  {
    name: 'additive model of ten curves, an event, 20,000 patients x 10',
    prepare: () => fitting('additive', 20_000, 10, 'event'),
  },
];

/** What others are told by patients who are searched once. */
function asking(patients: number, others: number, count: number, said: Settings) {
  const { inputs, outcome } = made(patients, count, 'event');
  const family = familyOf('nearest-patients');
  const settings = settingsSchema(family.description.settings).parse(said);
  const { fitted } = family.fit(inputs, outcome, settings, { seed: 1 });
  const asked = { ...inputs, rowCount: others };
  asked.columns = inputs.columns.map((column) => column.slice(0, others).map((one) => one + 0.1));
  return () => fitted.predict(asked);
}

function fitting(
  id: string,
  patients: number,
  count: number,
  kind: 'event' | 'number',
  said: Settings = {},
) {
  const { inputs, outcome } = made(patients, count, kind);
  const family = familyOf(id);
  const settings = settingsSchema(family.description.settings).parse(said);
  return () => family.fit(inputs, outcome, settings, { seed: 1 }).fitted.predict(inputs);
}

function made(patients: number, count: number, kind: 'event' | 'number') {
  const draw = randomStream(1, 'family inputs');
  const columns = Array.from({ length: count }, () =>
    Float64Array.from({ length: patients }, () => draw.normal()),
  );
  const linear = columns[0].map((_, i) =>
    columns.slice(0, 12).reduce((sum, column, j) => sum + (0.5 - 0.04 * j) * column[i], 0),
  );
  const outcome: Outcome =
    kind === 'number'
      ? { kind, values: linear.map((value) => 90 + 20 * (value + draw.normal())) }
      : {
          kind,
          values: Int8Array.from(linear, (value) =>
            Number(draw.uniform() < 1 / (1 + Math.exp(2 - value))),
          ),
        };
  const inputs: Inputs = { rowCount: patients, names: columns.map((_, j) => `c${j}`), columns };
  return { inputs, outcome };
}
