export { fittedTogether, groupsOf, type FittedTogether } from './along.ts';
export { chooseTried, type Choice, type Tried } from './choose.ts';
export { settingsCloser } from './closer.ts';
export { correctForChoice, type Corrected } from './corrected.ts';
export {
  judgeDevelopment,
  judgeFolds,
  ofSome,
  scoredOf,
  type JudgedBy,
  type TriedFigure,
  type TriedFigures,
} from './judge.ts';
export { searchMeasures, type Scored, type SearchMeasure } from './measures.ts';
export {
  costsEntering,
  keyOf,
  mostTried,
  searchPlanSchema,
  settingsTried,
  type SearchPlan,
} from './plan.ts';
export { nestedChoice, type Nested, type NestedTask } from './nested.ts';
export { raceShares, shareOf, survivorsOf } from './race.ts';
export * from './fewer/index.ts';
export { fieldsTried } from './fields-tried.ts';
export * from './growing/index.ts';
export { finerValues, rangeOf } from './ranges.ts';
export {
  readyPart,
  tryOnPart,
  type ReadyPart,
  type SearchRecipe,
  type TriedOnPart,
} from './try.ts';
export { SearchError } from './search-error.ts';
