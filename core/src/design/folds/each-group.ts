import * as z from 'zod';
import { columnOf, wordsOf } from '../columns.ts';
import { DesignError } from '../design-error.ts';
import { movingPatients, settleGroups } from '../moving.ts';
import { unitsOf } from '../units.ts';
import type { Dealt, Folds, FoldsContext } from './folds.ts';

const choice = z.object({
  way: z.literal('each group'),
  column: z.string(),
  /** Of patients with rows in several groups; absent, groups that share a patient are one. */
  moving: z.enum(['most frequent', 'first']).optional(),
});
type Choice = z.infer<typeof choice>;

/** As many fits as this are still waited for. */
const mostFolds = 50;

/**
 * Each group in turn: every hospital is predicted by a model that learned from all the others. Those
 * without a group are a fold of their own; groups that share a patient are one.
 */
export const eachGroup: Folds<Choice> = {
  name: 'Each group in turn',
  about: 'One fold a group: each hospital is predicted by what the others taught.',
  choice,
  columns: ({ column }) => [column],
  allocate,
};

function allocate(
  { patients, table, rows }: FoldsContext,
  { column: name, moving }: Choice,
): Dealt {
  const { column, label } = columnOf(table, name);
  const asTheyAre = wordsOf(table, name);
  const words = moving ? settleGroups(patients, asTheyAre, moving) : asTheyAre;
  const units = unitsOf(patients, words);
  const groupOf = units.keys.map((key) => (key.startsWith('group:') ? key.slice(6) : ''));
  const present = new Set(Array.from(rows, (row) => groupOf[units.ofRow[row]]));
  const names = ordered([...present], column.type === 'coded' ? column.levels : undefined);
  if (names.length < 2) {
    const count = movingPatients(patients, words).length;
    throw new DesignError(
      count > 0
        ? `${count} ${count === 1 ? 'patient has' : 'patients have'} rows in several groups of ${label}, which ties all groups to one. Choose what is done with patients of several groups.`
        : `All development patients have the same ${label}: there is no group to leave out.`,
    );
  }
  if (names.length > mostFolds)
    throw new DesignError(
      `${label} has ${names.length} groups among the development patients, and each would be a fit of its own. At most ${mostFolds} are left out one by one: deal them into folds by group.`,
    );
  const places = new Map(names.map((group, fold) => [group, fold]));
  return {
    folds: Uint8Array.from(rows, (row) => places.get(groupOf[units.ofRow[row]])!),
    names: names.map((group) => group || 'not known'),
  };
}

/** In the order of the dictionary, or of the numbers or letters; those without a group last. */
function ordered(groups: string[], levels: string[] | undefined): string[] {
  const compare = new Intl.Collator('en', { numeric: true }).compare;
  return groups.sort((a, b) => {
    if (a === '' || b === '') return a === '' ? 1 : -1;
    return levels ? levels.indexOf(a) - levels.indexOf(b) : compare(a, b);
  });
}
