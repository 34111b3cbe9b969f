export {
  collectOutOfFold,
  fitPart,
  groundOf,
  learnFrom,
  planParts,
  stepsFor,
  type FitPart,
  type FitPartResult,
  type FitRecipe,
  type Ground,
} from './parts.ts';
