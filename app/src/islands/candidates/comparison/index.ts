export { Comparison } from './Comparison.tsx';
