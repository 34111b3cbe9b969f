export { describePredictors } from './describe.ts';
export {
  packModel,
  reviveFamily,
  neighboursIn,
  scoreRows,
  unpackModel,
  type Model,
  type ModelPredictor,
  type PackedModel,
  type Scored,
} from './model.ts';
export { learnSurroundings, unlikeThen, type Surroundings } from './surroundings.ts';
