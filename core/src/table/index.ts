export {
  canPredict,
  dictionaryEntrySchema,
  dictionarySchema,
  display,
  isCoded,
  kinds,
  roles,
  type Dictionary,
  type DictionaryEntry,
  type Kind,
  type Role,
} from './dictionary.ts';
export {
  countMissing,
  isMissing,
  showDay,
  showValue,
  type CodedColumn,
  type Column,
  type NumberColumn,
  type Table,
  type TextColumn,
} from './column.ts';
export { ColumnCounter, distinctLimit, type ColumnTally } from './tally.ts';
export { proposeEntry, type Proposal } from './propose.ts';
export { defaultLevels, understand, yesNoLevels, type Understanding } from './levels.ts';
export { ColumnBuilder, TooManyLevels } from './build.ts';
export { summarise, type ColumnSummary } from './summary.ts';
export { tableFromText } from './from-text.ts';
