export { developmentCohort, externalCohort, nextWeekList, type DemoCohort } from './cohort.ts';
export { demoDictionary } from './dictionary.ts';
export { ckdEpi2021 } from './patient.ts';
export { toCsv } from './csv.ts';
