export { ComparedWith, Comparison, figureKey } from './Comparison.tsx';
