export {
  cohortFingerprint,
  cohortInfo,
  countLists,
  developmentCohort,
  developmentInBrief,
  sameUpload,
  screeningCohorts,
} from './info.ts';
export { keptRows, loadTable, readRows } from './load.ts';
export { planCohort, planReading, type PlannedCohort, type ReadFrom } from './build.ts';
export { namesOfRows } from './row-names.ts';
export { patientsWhere } from './rows-where.ts';
export { tryFormula } from './try-formula.ts';
