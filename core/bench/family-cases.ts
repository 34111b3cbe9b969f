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
];

function fitting(
  id: string,
  patients: number,
  count: number,
  kind: 'event' | 'number',
  said: Settings = {},
) {
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
  const family = familyOf(id);
  const settings = settingsSchema(family.description.settings).parse(said);
  return () => family.fit(inputs, outcome, settings, { seed: 1 }).fitted.predict(inputs);
}
