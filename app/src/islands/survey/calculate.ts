import {
  viewNumber,
  viewPairs,
  viewReshapings,
  viewTwoCategories,
  viewTwoNumbers,
  type Grouping,
} from '@rook-scale/core/survey';

/** What the views have worked out beside the page, so that it stays quick at any size. */
export const calculations = {
  number: (values: Float64Array, grouping?: Grouping, bins?: number) =>
    viewNumber(values, grouping, bins),
  reshapings: (values: Float64Array) => viewReshapings(values),
  twoNumbers: (x: Float64Array, y: Float64Array, span: number) => viewTwoNumbers(x, y, span),
  twoCategories: viewTwoCategories,
  pairs: viewPairs,
};

export type Calculations = typeof calculations;
