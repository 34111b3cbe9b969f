export {
  cohortFingerprint,
  cohortInfo,
  countLists,
  developmentCohort,
  developmentInBrief,
  screeningCohorts,
  type CohortInfo,
  type CohortPurpose,
} from './info.ts';
export { loadTable, readRows } from './load.ts';
export { createCohort, rereadCohort } from './build.ts';
export { patientsWhere } from './rows-where.ts';
export { tryFormula, type FormulaTried } from './try-formula.ts';
