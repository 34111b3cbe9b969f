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
  openQuestions,
  outcomeChoice,
  startDesign,
  type Design,
} from './design.ts';
export { levelCostsOf } from './level-costs.ts';
export { allocateFolds } from './folds/index.ts';
export { allocateHeldOut, side } from './split/index.ts';
export { patientsOf } from './patients.ts';
export { patientKeys } from './patient-keys.ts';
export {
  DesignError,
  divide,
  findOutcome,
  rowsOn,
  type Division,
  type DivisionCounts,
} from './divide.ts';
