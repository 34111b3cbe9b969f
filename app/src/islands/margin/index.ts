export { Margin, type MarginNote } from './Margin.tsx';
