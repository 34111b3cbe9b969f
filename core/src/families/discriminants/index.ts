export { discriminantsFamily } from './discriminants.ts';
