import { eq } from 'drizzle-orm';
import {
  canBeUndone,
  lastDone,
  ownAct,
  lastUndone,
  withoutRecord,
  type KeptAct,
  type Undo,
} from '../acts/index.ts';
import { moveState } from '../designs/index.ts';
import { db, inTurn, tables } from '../ground/database/index.ts';
import { Problem } from '../ground/problem.ts';
import { announce } from '../jobs/index.ts';
import { setPresence } from './presence.ts';
import { setValue } from './values.ts';

type Direction = 'undo' | 'redo';

/**
 * Takes back the last act of the person at hand in a study, or does again what they took back last; says which. What
 * others did since stays; where they changed the same thing, nothing is done.
 *
 * @param asked.act the act that the person was shown
 * @param asked.outOfTurn that act of theirs, whatever they did since
 */
export function step(
  studyId: string,
  {
    direction,
    act: expected,
    outOfTurn = false,
  }: { direction: Direction; act?: number; outOfTurn?: boolean },
): Promise<string> {
  return inTurn(studyId, async () => {
    const act =
      outOfTurn && expected !== undefined
        ? await ownAct(studyId, expected, direction)
        : await (direction === 'undo' ? lastDone(studyId) : lastUndone(studyId));
    if (!act)
      throw new Problem(409, 'no-step', `There is nothing to ${direction}. Nothing was changed.`);
    if (!act.undo || (direction === 'undo' && !canBeUndone(act)))
      throw new Problem(
        409,
        'no-undo',
        `“${act.what}” cannot be undone. Nothing was changed; see the history for what was done before.`,
      );
    if (expected !== undefined && act.id !== expected)
      throw new Problem(
        409,
        'other-step',
        `The next ${direction} is of “${act.what}” by now. Nothing was changed; press again to ${direction} that.`,
      );
    let isMarked = false;
    const mark = async () => {
      isMarked = true;
      await markAct(act, direction);
    };
    await withoutRecord(mark, () => carryOut(studyId, act.undo!, direction));
    if (!isMarked) await mark();
    await announce(studyId);
    return act.what;
  });
}

async function markAct({ id }: KeptAct, direction: Direction): Promise<void> {
  await db()
    .update(tables.act)
    .set({ undoneAt: direction === 'undo' ? new Date() : null })
    .where(eq(tables.act.id, id));
}

async function carryOut(studyId: string, undo: Undo, direction: Direction): Promise<void> {
  const [from, to] =
    direction === 'undo' ? (['after', 'before'] as const) : (['before', 'after'] as const);
  if (undo.kind === 'state') await moveState(studyId, undo[from], undo[to]);
  else if (undo.kind === 'value') await setValue(undo, from, to);
  else await setPresence(undo.things, undo.made === (direction === 'redo'));
}
