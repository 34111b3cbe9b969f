import { familyOf, settingsSchema, type Settings } from '../src/families/index.ts';
import { randomStream } from '../src/numeric/index.ts';
import { predictionsOf, type Outcome } from '../src/outcome/index.ts';
import { takeInputs, type PredictorColumn } from '../src/preparation/index.ts';
import {
  askPermuted,
  comparedWith,
  contributionsOf,
  effectOf,
  takenRows,
  type Ask,
  type AskAltered,
} from '../src/reasons/index.ts';
import type { BenchCase } from './cases.ts';

const first = (count: number) => Array.from({ length: count }, (_, i) => i);

/** What it takes to ask a model for its reasons; the model is learned before. */
export const reasonCases: BenchCase[] = [
  {
    name: 'what predictors are worth to a forest of 300 trees, 10,000 patients x 20, 5 times (half, on one of two threads)',
    prepare() {
      const { columns, ask, askAltered } = fitted(20_000, 20, 'random-forest', { trees: 300 });
      const half = columns.map((column) => takenRows(column, first(10_000)));
      const groups = columns.map(({ name }) => ({ name, columns: [name] }));
      return () => askPermuted(ask, half, groups, { times: 5, askAltered });
    },
  },
  {
    name: 'the effect of a predictor of a forest of 300 trees, 2,400 patients',
    prepare() {
      const { columns, ask, askAltered, truth } = fitted(2400, 20, 'random-forest', {
        trees: 300,
      });
      return () => effectOf(ask, columns, 'p0', truth, true, askAltered);
    },
  },
  {
    name: 'what 20 predictors add for one patient, drawn, boosted trees (300 of depth 6)',
    prepare() {
      const settings = { trees: 300, depth: 6 };
      const { columns, ask } = fitted(2400, 20, 'boosted-trees', settings);
      const patient = columns.map((column) => takenRows(column, [7]));
      return () => contributionsOf(ask, patient, comparedWith(columns, first(200)));
    },
  },
  {
    name: 'the same along the paths of the trees, 2,400 development patients',
    prepare() {
      const settings = { trees: 300, depth: 6 };
      const { model, inputs } = fitted(2400, 20, 'boosted-trees', settings);
      const patient = takeInputs(inputs, [7]);
      return () => model.added!(patient, inputs);
    },
  },
  {
    name: 'what 20 predictors add for each of 10,000 patients, boosted trees (300 of depth 6), along their paths (half, on one of two threads)',
    prepare() {
      const { model, inputs } = fitted(10_000, 20, 'boosted-trees', { trees: 300, depth: 6 });
      const half = takeInputs(inputs, first(5000));
      return () => model.added!(half, inputs);
    },
  },
];

function fitted(count: number, width: number, id: string, some: Settings) {
  const draw = randomStream(2, 'reasons');
  const columns = Array.from({ length: width }, (_, j): PredictorColumn => ({
    ...{ name: `p${j}`, type: 'number' },
    values: Float64Array.from({ length: count }, () => draw.normal()),
  }));
  const inputsOf = (all: PredictorColumn[], rowCount: number) => ({
    rowCount,
    names: all.map(({ name }) => name),
    columns: all.map((column) => (column.type === 'number' ? column.values : new Float64Array(0))),
  });
  const inputs = inputsOf(columns, count);
  const values = Int8Array.from({ length: count }, (_, i) =>
    Number(inputs.columns[0][i] + inputs.columns[1][i] * inputs.columns[2][i] + draw.normal() > 1),
  );
  const outcome: Outcome = { kind: 'event', values };
  const family = familyOf(id);
  const settings = settingsSchema(family.description.settings).parse(some);
  const { fitted: model } = family.fit(inputs, outcome, settings, { seed: 1 });
  const ask: Ask = (all, rowCount) =>
    predictionsOf(model.predict(inputsOf(all, rowCount)), 'event').risks;
  const askAltered: AskAltered = (own, alternatives, rowCount) =>
    model.predictAltered!(
      inputsOf(own, rowCount),
      alternatives.map((one) => inputsOf(one, rowCount)),
    ).map((said) => predictionsOf(said, 'event').risks);
  return { columns, model, inputs, ask, askAltered, truth: Float64Array.from(values) };
}
