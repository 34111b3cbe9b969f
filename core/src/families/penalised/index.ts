export { penalisedRegression } from './penalised-regression.ts';
