export {
  ofKind,
  outcomeKinds,
  predictionsOf,
  type Outcome,
  type OutcomeKind,
  type Predictions,
} from './kinds.ts';
export { outcomeChoiceSchema, OutcomeError, type OutcomeChoice } from './choice.ts';
export { readOutcome } from './read.ts';
export {
  countOf,
  emptyLike,
  isKnown,
  numbersOf,
  takeOutcome,
  takePredictions,
  widthOf,
  withNumbers,
} from './rows.ts';
export {
  packOutcome,
  packPredictions,
  unpackOutcome,
  unpackPredictions,
  type OutcomeHeader,
  type Packed,
} from './pack.ts';
export {
  caseRuleSchema,
  caseScores,
  casesOf,
  isCalledAt,
  readScore,
  type CaseRule,
} from './cases.ts';
