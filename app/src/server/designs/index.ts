export { bringIn, type NewCohort } from './bring-in.ts';
export { carryOutAnew, changeDesign, changeDictionary, changeSelection, step } from './change.ts';
