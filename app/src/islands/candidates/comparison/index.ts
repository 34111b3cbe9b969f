export { ComparedWith, Comparison, figureKey } from './Comparison.tsx';
export { figureOf, measureNames, signed } from './words.ts';
