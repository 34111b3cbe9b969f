export { recordAct, withoutRecord } from './record.ts';
export { canBeUndone, historyOf, lastDone, lastUndone, listActs, type KeptAct } from './history.ts';
export type { Changed, Thing, Undo } from './undo.ts';
