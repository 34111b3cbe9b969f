export { allocationFile, marksOf } from './allocation-file.ts';
export { bringInAllocation } from './allocation.ts';
export { bringIn, type NewCohort } from './bring-in.ts';
export { forgetVersion, keepVersion, listVersions, setVersion, versionAt } from './versions.ts';
export { bringInSecondFile, takeOutSecondFile } from './second-file.ts';
export {
  carryOutAnew,
  changeDesign,
  changeDictionary,
  changeSelection,
  moveState,
} from './change.ts';
export { sidesView } from './sides.ts';
