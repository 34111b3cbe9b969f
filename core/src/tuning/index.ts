export {
  collectOutOfFold,
  fitPart,
  planParts,
  type FitPart,
  type FitPartResult,
  type FitRecipe,
} from './parts.ts';
