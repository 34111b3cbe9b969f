export { modelSchema, scoreRows, type Model, type ModelPredictor } from './model.ts';
export { describePredictors } from './describe.ts';
export { alignToModel, type AlignedPredictor, type Alignment, type Shift } from './align.ts';
export {
  scorePatient,
  typicalPatient,
  whatIfOne,
  type PatientValues,
  type WhatIf,
} from './one-patient.ts';
export { modelInputs, sourcesOf } from './inputs.ts';
