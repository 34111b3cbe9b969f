import { same } from '../ground/same.ts';
import { Problem } from '../ground/problem.ts';

type Fields = Record<string, unknown>;

/**
 * Carries what one page changed over to what is in force now: fields that only the page changed are
 * its own, fields that only others changed stay theirs. `conflicts` names those that both changed,
 * to different values; `mine` wins there, for whoever insists.
 */
export function mergeEdits<T extends object>(
  base: T,
  mine: T,
  theirs: T,
): { merged: T; conflicts: string[] } {
  const merged: Fields = { ...(theirs as Fields) };
  const conflicts: string[] = [];
  const [from, to, now] = [base, mine, theirs] as [Fields, Fields, Fields];
  for (const field of new Set([...Object.keys(from), ...Object.keys(to)])) {
    if (same(from[field], to[field])) continue;
    if (!same(now[field], from[field]) && !same(now[field], to[field])) conflicts.push(field);
    if (to[field] === undefined) Reflect.deleteProperty(merged, field);
    else merged[field] = to[field];
  }
  return { merged: merged as T, conflicts };
}

/** Says that someone else changed the same thing meanwhile; the page offers both ways out. */
export function editedElsewhere(what: string): Problem {
  return new Problem(
    409,
    'edited-elsewhere',
    `Another tab has meanwhile changed ${what}. Your change is not saved yet and not lost: keep yours, or take the other.`,
  );
}
