export { checkCohort } from './check.ts';
export { earlierMatching, matchColumns } from './match.ts';
export { screenedReasons } from './reasons.ts';
export { scoreCohort } from './score.ts';
export { screeningFile, screeningFileName } from './list-file.ts';
export { listScreenings, screenedRows, screeningView } from './view.ts';
