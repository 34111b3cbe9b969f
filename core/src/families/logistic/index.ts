export { logisticRegression } from './logistic-regression.ts';
export { maximiseLikelihood, type Maximum } from './maximise.ts';
