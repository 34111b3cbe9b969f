import type { Thing } from '../acts/index.ts';
import {
  deleteCandidate,
  deleteCohort,
  deleteSearch,
  restoreCandidate,
  restoreCohort,
  restoreSearch,
} from '../deletion.ts';

const ways: Record<
  Thing,
  { remove: (id: string) => Promise<void>; restore: (id: string) => Promise<void> }
> = {
  candidate: { remove: deleteCandidate, restore: restoreCandidate },
  cohort: { remove: deleteCohort, restore: restoreCohort },
  search: { remove: deleteSearch, restore: restoreSearch },
};

/** Deletes things, or brings them back. */
export async function setPresence(
  things: { what: Thing; id: string }[],
  isThere: boolean,
): Promise<void> {
  for (const { what, id } of things) await ways[what][isThere ? 'restore' : 'remove'](id);
}
