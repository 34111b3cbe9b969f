export {
  describeDesignChange,
  describeDictionaryChange,
  describeSelectionChange,
  foldsWords,
  splitWords,
} from './changes.ts';
export {
  balancingOf,
  basisSchema,
  caseRule,
  defaultDesign,
  designFor,
  designSchema,
  dividingColumns,
  divisionKey,
  fitKey,
  openQuestions,
  outcomeChoice,
  predictorsFor,
  predictorsOffered,
  preparedBy,
  startDesign,
  stepsOn,
  type Basis,
  type Design,
} from './design.ts';
export { costTable, levelCostsOf } from './level-costs.ts';
export { columnsOfCosts, patientCosts } from './own-costs.ts';
export type { Allocation } from './allocation.ts';
export { balanceOf, unlikeFrom, type Balance, type SideOfColumn } from './balance.ts';
export { DesignError } from './design-error.ts';
export {
  aboutFolds,
  allocateFolds,
  columnsOfFolds,
  foldsWays,
  mostFolds,
  repeatsOf,
  type FoldsChoice,
  type FoldsWay,
} from './folds/index.ts';
export {
  aboutSplit,
  allocateHeldOut,
  columnsOfSplit,
  side,
  splitsByShare,
  splitWays,
  type SplitChoice,
  type SplitWay,
} from './split/index.ts';
export { spreadOf, type Lane, type Spread } from './spread.ts';
export { movings, type Moving } from './moving.ts';
export { likelyGroup } from './likely-group.ts';
export { patientsOf } from './patients.ts';
export { inTurns, rowsOn } from './rows.ts';
export { columnsOfDependence, dependentRows } from './dependent-rows.ts';
export { patientKeys } from './patient-keys.ts';
export {
  divide,
  findOutcome,
  patientsIn,
  type DivideBy,
  type Division,
  type DivisionCounts,
  type PartCounts,
} from './divide.ts';
