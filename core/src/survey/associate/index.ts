export {
  correlate,
  correlation,
  correlationInterval,
  correlationP,
  midRanks,
  rankCorrelate,
} from './correlation.ts';
export { chiSquareTest, crossTable, type ChiSquareTest } from './cross-table.ts';
export { byLevel, rankSumTest, rankTestOfGroups, varianceBetween, welch } from './groups.ts';
export { localRegression } from './local-regression.ts';
export {
  associate,
  makeReady,
  type Association,
  type Measure,
  type Measured,
} from './association.ts';
export { associationMap, type AssociationMap } from './association-map.ts';
export { correlationMatrix, labelledInputs, standardised } from './inputs.ts';
export { inflationFactors, type Inflation } from './inflation.ts';
