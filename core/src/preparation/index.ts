export { takeAsTheyAre } from './as-they-are.ts';
export type { InputMeaning, Inputs } from './inputs.ts';
export {
  applyPreparation,
  choosePredictors,
  fitPreparation,
  gapInputsOf,
  type FittedPreparation,
  type PredictorColumn,
} from './preparation.ts';
export { fewest, hasSupport, type Support } from './support.ts';
export { thinInputs, type ThinInput } from './thin-inputs.ts';
