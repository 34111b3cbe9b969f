export { step } from './step.ts';
