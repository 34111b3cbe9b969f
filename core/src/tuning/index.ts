export { collectOutOfFold, fitPart, planParts, type FitPartResult } from './parts.ts';
export {
  groundOf,
  learnFrom,
  stepsFor,
  type FitPart,
  type FitRecipe,
  type Ground,
} from './ground.ts';
