export {
  addSearch,
  chooseFromSearch,
  goOnWithSearch,
  judgeSearch,
  lookCloser,
  stopSearch,
} from './change.ts';
export { placesOf, type KeptPiece } from './collect.ts';
export { correctedChoice } from './corrected.ts';
export { choiceOf, searchDetail } from './detail.ts';
export { howLong } from './how-long.ts';
export { judgedByInForce } from './judged-by.ts';
export { listSearches } from './lines.ts';
export { pairsOfFolds } from './pairs.ts';
export { addPieces, ofFolds, partNames, workOf } from './pieces.ts';
export { nestedOf, nestSearch } from './nesting.ts';
export { recipeOf } from './recipe.ts';
export { measureFor, searchName, searchRow, trialsOf, type SearchRow } from './store.ts';
