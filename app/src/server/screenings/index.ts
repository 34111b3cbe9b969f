export { checkCohort, type CheckBeforeScoring, type CohortCheck } from './check.ts';
export { earlierMatching, matchColumns } from './match.ts';
export { scoreCohort } from './score.ts';
export { screeningFile, screeningFileName } from './list-file.ts';
export {
  listScreenings,
  screenedRows,
  screeningView,
  type ScreenedRow,
  type ScreeningView,
} from './view.ts';
