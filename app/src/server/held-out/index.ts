export { heldOutColumn } from './column.ts';
export { wrongPatients } from './wrong.ts';
