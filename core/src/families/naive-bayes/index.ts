export { naiveBayesFamily } from './naive-bayes.ts';
