export { reference } from './reference.ts';
