export { additiveModel } from './additive.ts';
