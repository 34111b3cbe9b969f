import type { ArrangedId, ArrangedStep } from '@rook-scale/core/preparation';
import { isCoded, type DictionaryEntry } from '@rook-scale/core/table';

/** What one part of a step's choice is, so that one form serves all steps. */
export type StepField = { name: string; label: string; when?: (step: Values) => boolean } & (
  | { type: 'columns' | 'column'; of: 'number' | 'levels' | 'any' }
  | { type: 'choice'; options: { value: string; label: string }[] }
  | { type: 'number'; least: number; most: number; whole?: boolean; empty?: boolean }
  | { type: 'percent'; least: number; most: number }
  | { type: 'text' }
  | { type: 'values' }
  | { type: 'switch' }
  | { type: 'names' }
  | { type: 'pairs' }
  | { type: 'keep' }
);

export type Values = Record<string, unknown>;

const same = (value: string) => ({ value, label: value });

const how =
  (...ways: string[]) =>
  (step: Values) =>
    ways.includes(String(step.how));

/** What is asked for each step, and what it begins with. */
export const stepForms: { [Id in ArrangedId]: { start: Values; fields: StepField[] } } = {
  'not known': {
    start: { column: '', below: null, above: null, values: [] },
    fields: [
      { name: 'column', label: 'Column', type: 'column', of: 'any' },
      { name: 'below', label: 'Below', type: 'number', least: -1e12, most: 1e12, empty: true },
      { name: 'above', label: 'Above', type: 'number', least: -1e12, most: 1e12, empty: true },
      { name: 'values', label: 'Or one of these (parted by commas)', type: 'values' },
    ],
  },
  'rename levels': {
    start: { column: '', into: {} },
    fields: [
      { name: 'column', label: 'Column', type: 'column', of: 'levels' },
      { name: 'into', label: 'Called from here on', type: 'names' },
    ],
  },
  'rare levels': {
    start: { columns: 'all', fewer: 20, name: 'other' },
    fields: [
      { name: 'columns', label: 'Columns', type: 'columns', of: 'levels' },
      {
        name: 'fewer',
        label: 'Fewer patients than',
        type: 'number',
        least: 2,
        most: 1e6,
        whole: true,
      },
      { name: 'name', label: 'Called', type: 'text' },
    ],
  },
  'leave out columns': {
    start: { columns: 'all', why: 'gaps', share: 0.5, correlation: 0.95 },
    fields: [
      {
        name: 'why',
        label: 'Those',
        type: 'choice',
        options: [
          { value: 'gaps', label: 'with many gaps' },
          { value: 'no variation', label: 'without variation' },
          { value: 'alike', label: 'that say nearly what another says' },
        ],
      },
      {
        name: 'share',
        label: 'Not known in at least',
        type: 'percent',
        least: 1,
        most: 100,
        when: ({ why }) => why === 'gaps',
      },
      {
        name: 'correlation',
        label: 'Correlation of at least',
        type: 'number',
        least: 0.5,
        most: 1,
        when: ({ why }) => why === 'alike',
      },
      { name: 'columns', label: 'Of the columns', type: 'columns', of: 'any' },
    ],
  },
  'leave out patients': {
    start: { share: 0.5 },
    fields: [{ name: 'share', label: 'Who lack at least', type: 'percent', least: 5, most: 100 }],
  },
  fill: {
    start: {
      columns: 'all',
      how: 'median',
      value: '',
      neighbours: 5,
      rounds: 5,
      mark: true,
    },
    fields: [
      {
        name: 'how',
        label: 'With',
        type: 'choice',
        options: [
          { value: 'mean', label: 'the mean' },
          { value: 'median', label: 'the median' },
          { value: 'most common', label: 'the most common value' },
          { value: 'constant', label: 'a value of your own' },
          { value: 'own level', label: 'a level “not known”' },
          { value: 'nearest patients', label: 'the nearest patients' },
          { value: 'chained regressions', label: 'chained regressions' },
        ],
      },
      { name: 'value', label: 'Value', type: 'text', when: how('constant') },
      {
        name: 'neighbours',
        label: 'Patients',
        type: 'number',
        least: 1,
        most: 50,
        whole: true,
        when: how('nearest patients'),
      },
      {
        name: 'rounds',
        label: 'Rounds',
        type: 'number',
        least: 1,
        most: 20,
        whole: true,
        when: how('chained regressions'),
      },
      { name: 'columns', label: 'Columns', type: 'columns', of: 'any' },
      { name: 'mark', label: 'Mark beside it that it was not known', type: 'switch' },
    ],
  },
  clip: {
    start: { columns: 'all', to: 'plausible', share: 0.01 },
    fields: [
      {
        name: 'to',
        label: 'To',
        type: 'choice',
        options: [
          { value: 'plausible', label: 'the plausible range of the dictionary' },
          { value: 'quantiles', label: 'quantiles' },
        ],
      },
      {
        name: 'share',
        label: 'At each end',
        type: 'percent',
        least: 0.05,
        most: 25,
        when: ({ to }) => to === 'quantiles',
      },
      { name: 'columns', label: 'Columns', type: 'columns', of: 'number' },
    ],
  },
  reshape: {
    start: { columns: [], how: 'log', lambda: null },
    fields: [
      {
        name: 'how',
        label: 'By',
        type: 'choice',
        options: ['log', 'square root', 'Box–Cox', 'Yeo–Johnson'].map(same),
      },
      {
        name: 'lambda',
        label: 'λ (learned where empty)',
        type: 'number',
        least: -5,
        most: 5,
        empty: true,
        when: how('Box–Cox', 'Yeo–Johnson'),
      },
      { name: 'columns', label: 'Columns', type: 'columns', of: 'number' },
    ],
  },
  rescale: {
    start: { columns: 'all', how: 'median and quartiles' },
    fields: [
      {
        name: 'how',
        label: 'By',
        type: 'choice',
        options: ['mean and SD', '0 to 1', 'median and quartiles'].map(same),
      },
      { name: 'columns', label: 'Columns', type: 'columns', of: 'number' },
    ],
  },
  'code levels': {
    start: { columns: [], how: 'case share', reference: '', shrinkage: 10 },
    fields: [
      {
        name: 'how',
        label: 'As',
        type: 'choice',
        options: [
          { value: 'indicators', label: 'indicators against a reference level' },
          { value: 'order', label: 'numbers in their order' },
          { value: 'case share', label: 'the share of cases of each level' },
        ],
      },
      { name: 'reference', label: 'Reference level', type: 'text', when: how('indicators') },
      {
        name: 'shrinkage',
        label: 'Drawn to the share of all by (patients)',
        type: 'number',
        least: 0,
        most: 10_000,
        when: how('case share'),
      },
      { name: 'columns', label: 'Columns', type: 'columns', of: 'levels' },
    ],
  },
  splines: {
    start: { columns: [], knots: 4 },
    fields: [
      { name: 'knots', label: 'Knots', type: 'number', least: 3, most: 7, whole: true },
      { name: 'columns', label: 'Columns', type: 'columns', of: 'number' },
    ],
  },
  products: {
    start: { pairs: [] },
    fields: [{ name: 'pairs', label: 'Products', type: 'pairs' }],
  },
  components: {
    start: { columns: 'all', keep: { share: 0.95 } },
    fields: [
      { name: 'keep', label: 'Keep', type: 'keep' },
      { name: 'columns', label: 'Columns', type: 'columns', of: 'number' },
    ],
  },
  unusualness: {
    start: { columns: 'all' },
    fields: [{ name: 'columns', label: 'By the columns', type: 'columns', of: 'any' }],
  },
};

/** A step as it begins, before anything is said. */
export const startOf = (step: ArrangedId): Values => ({ step, ...stepForms[step].start });

export const isOf = ({ kind }: DictionaryEntry, of: 'number' | 'levels' | 'any') =>
  of === 'any' || (of === 'levels') === isCoded(kind);

/** The columns that a step names. */
export function columnsOf(step: ArrangedStep): string[] {
  if ('column' in step) return [step.column];
  if ('pairs' in step) return [...new Set(step.pairs.flat())];
  return 'columns' in step && step.columns !== 'all' ? step.columns : [];
}
