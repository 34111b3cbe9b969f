export {
  describeDesignChange,
  describeDictionaryChange,
  describeSelectionChange,
} from './changes.ts';
export {
  caseRule,
  defaultDesign,
  designSchema,
  fitKey,
  foldCount,
  openQuestions,
  outcomeChoice,
  startDesign,
  type Design,
} from './design.ts';
export { levelCostsOf } from './level-costs.ts';
export { allocateFolds, allocateHeldOut, patientsOf, side } from './allocation.ts';
export { patientKeys } from './patient-keys.ts';
export {
  DesignError,
  divide,
  findOutcome,
  rowsOn,
  type Division,
  type DivisionCounts,
} from './divide.ts';
