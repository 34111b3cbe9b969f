export { ComparedWith, Comparison } from './Comparison.tsx';
