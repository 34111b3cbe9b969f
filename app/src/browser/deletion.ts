import { request } from './api.ts';
import { toast, toastError } from './toast.ts';

const folders = { study: 'studies', cohort: 'cohorts', candidate: 'candidates' };
type Kind = keyof typeof folders;

/** Deletes after the analyst has confirmed, and offers the way back. False when it was refused. */
export async function remove(what: Kind, id: string, name: string): Promise<boolean> {
  try {
    await request('DELETE', `/api/${folders[what]}/${id}`);
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
    await request('POST', `/api/${folders[what]}/${id}/erase`, { name: typed });
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
    await request('POST', `/api/${folders[what]}/${id}/restore`);
    toast(`${name} is back.`);
  } catch (error) {
    toastError(error);
  }
}
