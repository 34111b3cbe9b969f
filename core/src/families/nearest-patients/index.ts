export { nearestPatientsFamily } from './nearest-patients.ts';
