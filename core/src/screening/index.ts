export { alignToModel } from './meet.ts';
export { columnsForModel } from './align.ts';
export type { AlignedPredictor, Alignment, Shift } from './align.ts';
export type { Unfamiliar } from './unfamiliar.ts';
export {
  caseScoresOf,
  lackingOf,
  neighboursOf,
  patientColumns,
  scorePatient,
  typicalPatient,
  unfamiliarOf,
  whatIfOne,
  type PatientValues,
  type WhatIf,
} from './one-patient.ts';
export { applyMatching, matchingSchema, type Match } from './matching.ts';
export { suggestMatches, type Suggestion } from './suggest.ts';
export { neededOf } from './needed.ts';
export { inputsBehind, modelInputs, sourcesOf } from './inputs.ts';
export { callRuleSchema, callsOf, type CallRule, type Calls } from './calls.ts';
