export { recordAct, withoutRecord } from './record.ts';
export {
  canBeUndone,
  historyOf,
  lastDone,
  lastUndone,
  listActs,
  ownAct,
  type KeptAct,
} from './history.ts';
export type { Changed, Thing, Undo } from './undo.ts';
