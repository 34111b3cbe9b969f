export { raisePreparation } from './earlier.ts';
export type { Effect, EffectKind, EffectOf } from './effects.ts';
export type { InputMeaning, Inputs } from './inputs.ts';
export {
  applyPreparation,
  choosePredictors,
  effectsLike,
  effectsOf,
  fitPreparation,
  preparationSchema,
  type FittedPreparation,
  type PredictorColumn,
} from './preparation.ts';
export { stepOf, usualSteps, type StepId } from './steps/index.ts';
export { fewest, hasSupport, type Support } from './support.ts';
export { thinInputs, type ThinInput } from './thin-inputs.ts';
