export {
  collectOutOfFold,
  fitPart,
  planParts,
  stepsFor,
  type FitPart,
  type FitPartResult,
  type FitRecipe,
} from './parts.ts';
