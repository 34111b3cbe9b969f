import { candidateRoutes } from '../contract/candidates.ts';
import { cohortRoutes } from '../contract/cohorts.ts';
import { searchRoutes } from '../contract/searches.ts';
import { studyRoutes } from '../contract/studies.ts';
import { ask } from './api.ts';
import { toast, toastError } from './toast.ts';

/** What can be deleted, erased and brought back, each by its id. */
const ways = {
  study: (study: string) => ({
    remove: () => ask(studyRoutes.remove, { study }),
    restore: () => ask(studyRoutes.restore, { study }),
    erase: (name: string) => ask(studyRoutes.erase, { study }, { body: { name } }),
  }),
  cohort: (cohort: string) => ({
    remove: () => ask(cohortRoutes.remove, { cohort }),
    restore: () => ask(cohortRoutes.restore, { cohort }),
    erase: (name: string) => ask(cohortRoutes.erase, { cohort }, { body: { name } }),
  }),
  candidate: (candidate: string) => ({
    remove: () => ask(candidateRoutes.remove, { candidate }),
    restore: () => ask(candidateRoutes.restore, { candidate }),
    erase: (name: string) => ask(candidateRoutes.erase, { candidate }, { body: { name } }),
  }),
  search: (search: string) => ({
    remove: () => ask(searchRoutes.remove, { search }),
    restore: () => ask(searchRoutes.restore, { search }),
    erase: (name: string) => ask(searchRoutes.erase, { search }, { body: { name } }),
  }),
};
type Kind = keyof typeof ways;

/** Deletes after the analyst has confirmed, and offers the way back. False when it was refused. */
export async function remove(what: Kind, id: string, name: string): Promise<boolean> {
  try {
    await ways[what](id).remove();
  } catch (error) {
    toastError(error);
    return false;
  }
  toast(`${name} is deleted.`, {
    label: 'Bring it back',
    run: () => void restore(what, id, name),
  });
  return true;
}

/** Ends something deleted for good; `typed` says that it is the one meant. False when it was refused. */
export async function erase(what: Kind, id: string, typed: string): Promise<boolean> {
  try {
    await ways[what](id).erase(typed);
  } catch (error) {
    toastError(error);
    return false;
  }
  toast(`${typed.trim()} is erased.`);
  return true;
}

/** Brings back what was deleted within the last day. */
export async function restore(what: Kind, id: string, name: string): Promise<void> {
  try {
    await ways[what](id).restore();
    toast(`${name} is back.`);
  } catch (error) {
    toastError(error);
  }
}
