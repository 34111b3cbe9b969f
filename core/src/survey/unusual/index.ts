export { findUnusual, type UnusualPatient, type UnusualPatients } from './find-unusual.ts';
export type { UnusualRule } from './rules.ts';
