export { principalComponents } from './principal-components.ts';
export { drawnAtMost, everyFew, mapPatients, type PatientMap } from './patient-map.ts';
