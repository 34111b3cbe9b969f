export {
  canPredict,
  cellFormats,
  dictionaryEntrySchema,
  dictionarySchema,
  display,
  isAboutRows,
  isCoded,
  kinds,
  readingOf,
  readsAlike,
  roles,
  type CellFormat,
  type Dictionary,
  type DictionaryEntry,
  type Kind,
  type Role,
} from './dictionary.ts';
export {
  countMissing,
  isMissing,
  lengthOf,
  showDay,
  showValue,
  type CodedColumn,
  type Column,
  type NumberColumn,
  type Table,
  type TextColumn,
} from './column.ts';
export { harmlessCell, withoutApostrophe } from './harmless.ts';
export { ColumnCells } from './cells.ts';
export { distinctLimit, type ColumnTally, type Readable } from './tally.ts';
export { proposeEntries, proposeEntry, type Proposal } from './propose.ts';
export {
  defaultLevels,
  levelsAfterChange,
  readEnds,
  understand,
  yesNoLevels,
  type Understanding,
} from './levels.ts';
export { ColumnBuilder, TooManyLevels } from './build.ts';
export { pickRows } from './pick-rows.ts';
export { summarise, type ColumnSummary } from './summary.ts';
export { largestNumber, readDay, readNumber } from './cell.ts';
export { tableFromText } from './from-text.ts';
export {
  commonMeasures,
  commonRange,
  measureOf,
  plainUnit,
  type CommonMeasure,
} from './common-measures.ts';
export { conversionsTo, convert, type Conversion } from './lab-units.ts';
export {
  applyDictionaryRows,
  dictionaryHeader,
  dictionaryRows,
  type DictionaryApplied,
} from './dictionary-rows.ts';
