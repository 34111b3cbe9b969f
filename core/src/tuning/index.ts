export { regionMap } from './region-map.ts';
export { knownLevels } from './known-levels.ts';
export { collectOutOfFold, fitPart, learnPart, planParts, type FitPartResult } from './parts.ts';
export {
  groundOf,
  learnFrom,
  stepsFor,
  type FitPart,
  type FitRecipe,
  type Ground,
} from './ground.ts';
