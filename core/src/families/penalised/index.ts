export { entryOrder } from './entry.ts';
export { penalisedRegression } from './penalised-regression.ts';
