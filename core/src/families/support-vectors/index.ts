export { supportVectorsFamily } from './support-vectors.ts';
