export {
  cohortFingerprint,
  cohortInfo,
  countLists,
  developmentCohort,
  developmentInBrief,
  sameUpload,
  screeningCohorts,
  type CohortInfo,
  type CohortPurpose,
} from './info.ts';
export { keptRows, loadTable, readRows } from './load.ts';
export { planCohort, planReading, type PlannedCohort } from './build.ts';
export { patientsWhere } from './rows-where.ts';
export { tryFormula, type FormulaTried } from './try-formula.ts';
