import type { Design } from '@rook-scale/core/design';
import type { Selection } from '@rook-scale/core/selection';
import { display, type Dictionary, type DictionaryEntry } from '@rook-scale/core/table';
import { type CohortInfo, cohortRoutes } from '../contract/cohorts.ts';
import { designRoutes, type DesignState } from '../contract/designs.ts';
import { ApiError, ask } from './api.ts';
import { studyRoutes } from '../contract/studies.ts';
import { toast, toastError } from './toast.ts';

/** Whether an error says that another tab changed the same thing meanwhile. */
export function wasEditedElsewhere(error: unknown): boolean {
  return error instanceof ApiError && error.code === 'edited-elsewhere';
}

export function putDesign(
  studyId: string,
  base: Design,
  mine: Design,
  insist = false,
): Promise<DesignState> {
  return ask(designRoutes.change, { study: studyId }, { body: { base, mine, insist } });
}

export function putDictionary(
  cohortId: string,
  base: Dictionary,
  mine: Dictionary,
  insist = false,
): Promise<void> {
  return ask(cohortRoutes.changeDictionary, { cohort: cohortId }, { body: { base, mine, insist } });
}

/** Changes one entry of a dictionary on its own, says what was done, and offers the way back. */
export async function mendEntry(
  { id, studyId }: Pick<CohortInfo, 'id' | 'studyId'>,
  name: string,
  change: (entry: DictionaryEntry) => DictionaryEntry,
  done: string,
): Promise<void> {
  await saved(studyId, done, async () => {
    const before = await ask(cohortRoutes.info, { cohort: id });
    const mine = before.dictionary.map((entry) => (entry.name === name ? change(entry) : entry));
    await putDictionary(id, before.dictionary, mine);
    const place = mine.findIndex((entry) => entry.name === name);
    if (same(mine[place].missingCodes, before.dictionary[place].missingCodes)) return done;
    const after = await ask(cohortRoutes.info, { cohort: id });
    // A mend of cells that no cell answers to is no mend.
    return same(before.summaries[place], after.summaries[place])
      ? `No cell of ${display(mine[place])} reads so: not a value was changed.`
      : done;
  });
}

/** Changes several entries of a dictionary at once, says what was done, and offers the way back. */
export async function mendDictionary(
  { id, studyId }: Pick<CohortInfo, 'id' | 'studyId'>,
  change: (dictionary: Dictionary) => Dictionary,
  done: string,
): Promise<void> {
  await saved(studyId, done, async () => {
    const { dictionary } = await ask(cohortRoutes.info, { cohort: id });
    await putDictionary(id, dictionary, change(dictionary));
    return undefined;
  });
}

/** Changes the design in one place, says what was done, and offers the way back. */
export async function mendDesign(
  studyId: string,
  change: (design: Design) => Design,
  done: string,
): Promise<void> {
  await saved(studyId, done, async () => {
    const state = await ask(designRoutes.inForce, { study: studyId });
    if (!state) throw new Error('The patients of this study are gone. Bring them back first.');
    await putDesign(studyId, state.choices, change(state.choices));
    return undefined;
  });
}

/**
 * Changes who is in, starting from what is in force rather than from what the page shows, which may
 * still be what it was before the last change. Says whether it was done.
 */
export async function mendSelection(
  { id, studyId }: Pick<CohortInfo, 'id' | 'studyId'>,
  change: (selection: Selection) => Selection,
  done: string,
): Promise<boolean> {
  return saved(studyId, done, async () => {
    const { selection } = await ask(cohortRoutes.info, { cohort: id });
    const mine = change(selection);
    await ask(cohortRoutes.changeSelection, { cohort: id }, { body: { base: selection, mine } });
    return undefined;
  });
}

/** Carries a change out, says what was done, and offers the way back; or says why it was not. */
async function saved(
  studyId: string,
  done: string,
  save: () => Promise<string | undefined>,
): Promise<boolean> {
  const work = save();
  whileSaving(work);
  try {
    await toastUndo(studyId, (await work) ?? done);
    return true;
  } catch (error) {
    toastError(error);
    return false;
  }
}

/** Says what was done, and offers to take back that, and nothing that is done later. */
export async function toastUndo(studyId: string, done: string): Promise<void> {
  const { history } = await ask(studyRoutes.overview, { study: studyId });
  const { undo } = history;
  toast(
    done,
    undo ? { label: 'Undo', run: () => void stepHistory(studyId, 'undo', undo.id) } : undefined,
  );
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

const saving = new Set<Promise<unknown>>();

/** Names a save that is under way: an undo asked for meanwhile is about what it saves, and leaving waits. */
export function whileSaving(work: Promise<unknown>): void {
  saving.add(work);
  // Only meanwhile: a page that always listens is not kept for the back button by some browsers.
  window.addEventListener('beforeunload', askFirst);
  const done = () => {
    saving.delete(work);
    if (saving.size === 0) window.removeEventListener('beforeunload', askFirst);
  };
  work.then(done, done);
}

/** Has the browser ask before the tab is closed or loaded anew. */
const askFirst = (event: BeforeUnloadEvent) => event.preventDefault();

export const isSaving = (): boolean => saving.size > 0;

/** Resolves once nothing is being saved any more, whatever came of it. */
export async function allSaved(): Promise<void> {
  while (saving.size > 0) await Promise.allSettled(saving);
}

/**
 * Takes back the last act of this browser in the study, or does it again, and says which.
 *
 * @param act the one that was shown; where another comes next by now, that is said and nothing is done
 * @param outOfTurn that one, whatever was done since
 */
export async function stepHistory(
  studyId: string,
  direction: 'undo' | 'redo',
  act?: number,
  outOfTurn?: boolean,
): Promise<void> {
  try {
    await allSaved();
    const { what } = await ask(
      studyRoutes.step,
      { study: studyId },
      {
        body: { direction, act, outOfTurn },
      },
    );
    const back = direction === 'undo' ? ('redo' as const) : ('undo' as const);
    toast(`${direction === 'undo' ? 'Undone' : 'Done again'}: ${what}`, {
      label: direction === 'undo' ? 'Redo' : 'Undo',
      run: () => void stepHistory(studyId, back),
    });
  } catch (error) {
    toastError(error);
  }
}
