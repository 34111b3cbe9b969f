import type { Model } from '../../src/model/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import type { Outcome } from '../../src/outcome/index.ts';
import type { PredictorColumn } from '../../src/preparation/index.ts';
import { fitPart, planParts, type FitPartResult, type FitRecipe } from '../../src/tuning/index.ts';

export const count = 300;
export const draw = randomStream(11, 'blend');
const normal = () => Float64Array.from({ length: count }, () => draw.normal());
const [first, second, third] = [normal(), normal(), normal()];
const wards = Int32Array.from({ length: count }, () => Math.floor(3 * draw.uniform()));
first.forEach((_, i) => i % 9 === 0 && (first[i] = NaN));
/** Half of it is straight, half of it is a step that a straight line cannot follow. */
const signal = Float64Array.from(
  second,
  (value, i) => value + (Math.abs(third[i]) > 1 ? 2 : 0) + (wards[i] === 2 ? 1 : 0),
);
export const predictors: PredictorColumn[] = [
  { name: 'first', type: 'number', values: first },
  { name: 'second', type: 'number', values: second },
  { name: 'third', type: 'number', values: third },
  { name: 'ward', ordered: false, type: 'coded', levels: ['north', 'south', 'west'], codes: wards },
];
export const outcomes: Record<Outcome['kind'], Outcome> = {
  event: {
    kind: 'event',
    values: Int8Array.from(signal, (value) => Number(value + draw.normal() > 1.2)),
  },
  levels: {
    kind: 'levels',
    levels: ['none', 'mild', 'severe'],
    ordered: true,
    values: Int32Array.from(signal, (value) => {
      const noisy = value + draw.normal();
      return noisy > 2 ? 2 : noisy > 0.5 ? 1 : 0;
    }),
  },
  number: { kind: 'number', values: signal.map((value) => 5 + value + draw.normal()) },
};
export const rows = Int32Array.from({ length: 240 }, (_, i) => i);
export const aside = Int32Array.from({ length: 60 }, (_, i) => 240 + i);
export const folds = Uint8Array.from(rows, (i) => i % 4);
export const fitAll = (outcome: Outcome, recipe: FitRecipe, own = predictors): FitPartResult[] =>
  planParts(rows, folds, aside).map((part) => fitPart(part, own, outcome, recipe));

export const wholeOf = (results: FitPartResult[]) => results.find(({ name }) => name === 'all')!;

/** What of a model has no part in what it says. */
export const modelOf: Model = {
  format: 'rook-scale model',
  version: 4,
  study: 'made up',
  candidate: 'Blend 3',
  outcome: {
    choice: { kind: 'event', column: 'died', event: 'yes' },
    label: '',
    unit: '',
    cases: { kind: 'event' },
  },
  development: { patients: 240, events: 80 },
  predictors: [],
  sources: [],
  preparation: { patients: 0, steps: [], inputs: [] },
  family: { id: 'blend', settings: {}, saved: { version: 1, json: {}, arrays: {} } },
};
