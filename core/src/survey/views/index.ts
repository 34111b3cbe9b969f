export {
  skewedFrom,
  viewNumber,
  viewReshapings,
  type GroupOfNumbers,
  type Grouping,
  type OneNumber,
  type ReshapedNumber,
} from './one-number.ts';
export {
  associateOnce,
  viewPairs,
  viewTwoCategories,
  viewTwoNumbers,
  type PairView,
  type TwoCategories,
  type TwoNumbers,
} from './two-columns.ts';
