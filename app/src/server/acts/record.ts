import { AsyncLocalStorage } from 'node:async_hooks';
import { db, tables } from '../ground/database/index.ts';
import { personAtHand } from '../ground/person.ts';
import type { Undo } from './undo.ts';

/** What stands in the place of recording while an act is taken back or done again. */
const instead = new AsyncLocalStorage<() => Promise<void>>();

/**
 * Writes down what was done, as part of the change at hand.
 *
 * @param what in a few words
 * @param undo how it is taken back; absent where it cannot be
 */
export async function recordAct(studyId: string, what: string, undo?: Undo): Promise<void> {
  const other = instead.getStore();
  if (other) return other();
  await db()
    .insert(tables.act)
    .values({ studyId, person: personAtHand() ?? null, what, undo: undo ?? null });
}

/**
 * Does work that records no act.
 *
 * @param done called in the place of each record, as part of the change that it belongs to
 */
export const withoutRecord = <T>(done: () => Promise<void>, work: () => Promise<T>): Promise<T> =>
  instead.run(done, work);
