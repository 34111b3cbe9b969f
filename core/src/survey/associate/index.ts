export {
  correlateGrades,
  correlation,
  correlationInterval,
  correlationP,
  midRanks,
  rankCorrelateGrades,
  ranksOfGrades,
  scaleOfValues,
} from './correlation.ts';
export { chiSquareTest, crossTable, type ChiSquareTest } from './cross-table.ts';
export {
  byLevel,
  grouped,
  momentsOfGroups,
  rankSumTest,
  rankTestOfGroups,
  varianceBetween,
  welch,
  type Grouped,
} from './groups.ts';
export { gradesOfColumn, measured, type Measured } from './measured.ts';
export { localRegression } from './local-regression.ts';
export { associate, makeReady, type Association, type Measure, type Ready } from './association.ts';
export {
  associationMap,
  associationRows,
  mapOfRows,
  type AssociationMap,
} from './association-map.ts';
export { correlationMatrix, inputsOf, type Input } from './inputs.ts';
export { inflationFactors, type Inflation } from './inflation.ts';
