export { raisePreparation } from './earlier.ts';
export type { Effect, EffectKind, EffectOf, FillHow } from './effects.ts';
export { takeInputs, type InputMeaning, type Inputs } from '../inputs/index.ts';
export {
  applyPreparation,
  applyToEach,
  choosePredictors,
  effectsLike,
  effectsOf,
  fillingsOf,
  fitPreparation,
  learningInputs,
  preparationSchema,
  readsColumn,
  withGaps,
  withUsual,
  type FittedPreparation,
  type PredictorColumn,
} from './preparation.ts';
export {
  arrangedSteps,
  arrangedStepSchema,
  stepOf,
  usualSteps,
  type ArrangedId,
  type ArrangedStep,
  type ArrangedStepOf,
  type StepId,
} from './steps/index.ts';
export { mostDonors } from './steps/fill/nearest.ts';
export type { ChosenColumns } from './steps/chosen-columns.ts';
export { traceStep, type Shape, type StepTrace } from './trace.ts';
export { fewest, hasSupport, type Support } from './support.ts';
export { thinInputs, type ThinInput } from './thin-inputs.ts';
