export type { InputMeaning, Inputs } from './inputs.ts';
export {
  applyPreparation,
  choosePredictors,
  fitPreparation,
  type FittedPreparation,
  type PredictorColumn,
} from './preparation.ts';
