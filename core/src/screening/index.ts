export { modelSchema, scoreRows, type Model, type ModelPredictor } from './model.ts';
export { describePredictors } from './describe.ts';
export { alignToModel, type AlignedPredictor, type Alignment } from './align.ts';
