export {
  describeDesignChange,
  describeDictionaryChange,
  describeSelectionChange,
} from './changes.ts';
export {
  defaultDesign,
  designSchema,
  fitKey,
  foldCount,
  openQuestions,
  startDesign,
  type Design,
} from './design.ts';
export { allocateFolds, allocateHeldOut, patientsOf, side } from './allocation.ts';
export { patientKeys } from './patient-keys.ts';
export {
  DesignError,
  divide,
  findEvents,
  rowsOn,
  type Division,
  type DivisionCounts,
} from './divide.ts';
