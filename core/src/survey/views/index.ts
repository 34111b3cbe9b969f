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
  viewTwoCategories,
  viewTwoNumbers,
  type TwoCategories,
  type TwoNumbers,
} from './two-columns.ts';
