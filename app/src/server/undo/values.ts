import type { Changed, Undo } from '../acts/index.ts';
import { candidateRow, giveWords, setCutoffRule, wordsOf } from '../candidates/index.ts';
import { cohortInfo } from '../cohorts/index.ts';
import { setVersion, versionAt } from '../designs/index.ts';
import { dismissalAt, setDismissal } from '../dismissals.ts';
import { same } from '../ground/same.ts';
import { Problem } from '../ground/problem.ts';
import { callsOfList, columnsOfList, setColumns, setCalls } from '../screenings/index.ts';
import { chooseCandidate, chosenOfStudy, nameOfStudy, renameStudy } from '../studies.ts';

type Value = Extract<Undo, { kind: 'value' }>;

/** How a value is read and put back, and what it is called. */
const places: {
  [Of in keyof Changed]: {
    called: string;
    read: (id: string) => Promise<Changed[Of]>;
    write: (id: string, value: Changed[Of]) => Promise<void>;
  };
} = {
  cutoff: {
    called: 'The cutoff',
    read: async (id) => (await candidateRow(id)).cutoffRule,
    write: setCutoffRule,
  },
  words: { called: 'Name, group or note', read: wordsOf, write: giveWords },
  chosen: { called: 'The chosen candidate', read: chosenOfStudy, write: chooseCandidate },
  calls: {
    called: 'Who of the list is called in',
    read: async (id) => (await callsOfList(id)).calls,
    write: async (id, calls) => setCalls(id, calls, (await callsOfList(id)).scoredAt),
  },
  columns: {
    called: 'How the columns of the list are read',
    read: async (id) => columnsOfList(await cohortInfo(id)),
    write: setColumns,
  },
  name: { called: 'The name of the study', read: nameOfStudy, write: renameStudy },
  note: { called: 'The note', read: dismissalAt, write: setDismissal },
  version: { called: 'The kept design', read: versionAt, write: setVersion },
};

/** Puts a value back to what it was, unless it has been changed again meanwhile. */
export async function setValue(
  undo: Value,
  from: 'before' | 'after',
  to: 'before' | 'after',
): Promise<void> {
  const { called, read, write } = places[undo.of] as (typeof places)['name'];
  if (!same(await read(undo.id), undo[from]))
    throw new Problem(
      409,
      'changed-since',
      `${called} was changed again since, perhaps by somebody else. Nothing was changed.`,
    );
  await write(undo.id, undo[to] as string);
}
