export { checkCohort } from './check.ts';
export { columnsOfList, earlierMatching, matchColumns, setColumns } from './match.ts';
export { screenedReasons } from './reasons.ts';
export { keepVersionsOfLists } from './keep-versions.ts';
export { scoreCohort } from './score.ts';
export { callsOfList, setCalls } from './set-calls.ts';
export { screeningFile, screeningFileName } from './list-file.ts';
export {
  askListFile,
  claimListFile,
  deleteListFile,
  forgetListFiles,
  forsakenListFiles,
  giveBackListFile,
  keptListFile,
  listFiles,
  showListFileAlive,
  writeListFile,
} from './kept-files.ts';
export { screeningHead } from './list-head.ts';
export { listScreenings, screenedRows, screeningView } from './view.ts';
