import {
  describeDesignChange,
  describeDictionaryChange,
  describeSelectionChange,
  startDesign,
  type Design,
} from '@rook-scale/core/design';
import type { Selection } from '@rook-scale/core/selection';
import { display, type Dictionary } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import type { DesignState } from '../../contract/designs.ts';
import { keepResults } from '../candidates/index.ts';
import {
  cohortInfo,
  developmentCohort,
  planReading,
  type PlannedCohort,
} from '../cohorts/index.ts';
import { atOnce, inTurn } from '../ground/database/index.ts';
import { announce } from '../jobs/index.ts';
import { editedElsewhere, mergeEdits } from './merge.ts';
import { recordAct } from '../acts/index.ts';
import { Problem } from '../ground/problem.ts';
import { beginSurvey } from '../surveys/index.ts';
import { asItIs, planDesign, planFollowing } from './plan.ts';
import { beginSides } from './sides.ts';
import { recordRevision, stateOf } from './revisions.ts';
import { currentDesign } from '../design-in-force.ts';

// Each change is planned first, which may take seconds, and then written in one piece.

/** What a page changed: what it started from, and what it wants. */
export interface Edit<T> {
  base: T;
  mine: T;
  /** Wins over what another tab changed meanwhile. */
  insist?: boolean;
}

/** Puts a changed design in force and carries it out: split, folds, reference candidate. */
export function changeDesign(studyId: string, edit: Edit<Design>): Promise<DesignState> {
  return inTurn(studyId, async () => {
    const cohort = await needCohort(studyId);
    const theirs = (await currentDesign(studyId))?.choices ?? startDesign(cohort.dictionary);
    const { merged, conflicts } = mergeEdits(edit.base, edit.mine, theirs);
    if (conflicts.length > 0 && !edit.insist)
      throw editedElsewhere(conflicts.map((field) => fieldNames[field] ?? field).join(' and '));
    const design = await planDesign(asItIs(cohort), merged);
    if (design.divided) beginSides(cohort, design.choices, design.divided);
    const what = describeDesignChange(theirs, design.choices, cohort.dictionary);
    const costs = ({ missedCost, falseAlarmCost, levelCosts, ownCosts }: Design) =>
      JSON.stringify([
        missedCost,
        falseAlarmCost,
        levelCosts,
        ownCosts.missed,
        ownCosts.falseAlarm,
      ]);
    await atOnce(async () => {
      await design.write();
      if (what) await keepRevision(studyId, what);
      if (costs(design.choices) !== costs(theirs)) await keepResults(studyId);
      await announce(studyId);
    });
    await beginSurvey(studyId);
    return (await currentDesign(studyId))!;
  });
}

const fieldNames: Record<string, string> = {
  outcome: 'the outcome',
  event: 'the event',
  predictors: 'the predictors',
  needed: 'what must be known',
  fixed: 'what cannot be changed',
  preparation: 'the preparation',
  predictorSets: 'the kept predictors',
  preparations: 'the kept preparations',
  balancing: 'how patients are balanced',
  split: 'how patients are set aside',
  heldOutShare: 'the held-out share',
  sealedShare: 'the sealed share',
  folds: 'the folds',
  seed: 'the seed',
  missedCost: 'the cost of a missed case',
  falseAlarmCost: 'the cost of a false alarm',
  ownCosts: 'the costs by patient',
  costUnit: 'the unit of costs',
  levelCosts: 'what a wrong level costs',
};

/** Puts a mended dictionary in force; of the development cohort's, the design follows. */
export async function changeDictionary(cohortId: string, edit: Edit<Dictionary>): Promise<void> {
  const { studyId } = await cohortInfo(cohortId);
  await inTurn(studyId, async () => {
    const cohort = await cohortInfo(cohortId);
    const planned = await planReading(cohort, mergeDictionary(cohort.dictionary, edit));
    await changeCohort(cohort, planned, () =>
      describeDictionaryChange(cohort.dictionary, planned.after.dictionary),
    );
  });
}

/** Puts another selection of patients of the development cohort in force. */
export async function changeSelection(cohortId: string, edit: Edit<Selection>): Promise<void> {
  const { studyId } = await cohortInfo(cohortId);
  await inTurn(studyId, async () => {
    const cohort = await cohortInfo(cohortId);
    const { merged, conflicts } = mergeEdits(edit.base, edit.mine, cohort.selection);
    if (conflicts.length > 0 && !edit.insist) throw editedElsewhere('who is in');
    const planned = await planReading(cohort, cohort.dictionary, merged);
    await changeCohort(cohort, planned, () => describeSelectionChange(cohort.selection, merged));
  });
}

async function changeCohort(
  cohort: CohortInfo,
  planned: PlannedCohort,
  describe: () => string | undefined,
): Promise<void> {
  const { id, studyId, purpose, name, matching } = cohort;
  const design = purpose === 'development' ? await planFollowing(planned) : undefined;
  await atOnce(async () => {
    await planned.write();
    const what = describe();
    if (design) {
      await design.write();
      if (what) await keepRevision(studyId, what);
    } else if (what)
      await recordAct(studyId, `${name}: ${what}`, {
        ...{ kind: 'value', of: 'columns', id },
        before: { dictionary: cohort.dictionary, matching },
        after: { dictionary: planned.after.dictionary, matching },
      });
    await announce(studyId);
  });
  if (design) await beginSurvey(studyId);
}

function mergeDictionary(theirs: Dictionary, { base, mine, insist }: Edit<Dictionary>): Dictionary {
  const { merged, disputed } = mergeEntries(theirs, base, mine);
  if (disputed.length > 0 && !insist)
    throw editedElsewhere(`the dictionary: ${disputed.join(', ')}`);
  return merged;
}

/** Entries that only one side changed; `disputed` names those that both changed, to different things. */
function mergeEntries(
  theirs: Dictionary,
  base: Dictionary,
  mine: Dictionary,
): { merged: Dictionary; disputed: string[] } {
  const byName = (dictionary: Dictionary) =>
    new Map(dictionary.map((entry) => [entry.name, entry]));
  const [from, now] = [byName(base), byName(theirs)];
  const disputed: string[] = [];
  const merged = mine.map((entry) => {
    const [start, current] = [from.get(entry.name), now.get(entry.name)];
    if (!start || !current) return entry;
    const result = mergeEdits(start, entry, current);
    if (result.conflicts.some((field) => field !== 'levels')) disputed.push(display(entry));
    return result.merged;
  });
  const mineNames = new Set(mine.map(({ name }) => name));
  // What another tab has added meanwhile stays.
  const added = theirs.filter(({ name }) => !from.has(name) && !mineNames.has(name));
  return { merged: [...merged, ...added], disputed };
}

/**
 * Takes dictionary, selection and design from one revision to another; what was changed besides stays. A Problem
 * where the same was changed since.
 *
 * @param from id of the revision that is left @param to id of the one that is gone to
 */
export async function moveState(studyId: string, from: number, to: number): Promise<void> {
  await inTurn(studyId, async () => {
    const [base, mine] = await Promise.all([stateOf(studyId, from), stateOf(studyId, to)]);
    const cohort = await needCohort(studyId);
    const theirs = (await currentDesign(studyId))?.choices ?? startDesign(cohort.dictionary);
    if (base.cohortId !== cohort.id || mine.cohortId !== cohort.id)
      throw changedSince('the development cohort');
    const choices = mergeEdits(base.choices, mine.choices, theirs);
    const selection = mergeEdits(base.selection, mine.selection, cohort.selection);
    const dictionary = mergeEntries(cohort.dictionary, base.dictionary, mine.dictionary);
    const file = mergeEdits(fileOf(base), fileOf(mine), fileOf(cohort));
    const disputed = [
      ...choices.conflicts.map((field) => fieldNames[field] ?? field),
      ...(selection.conflicts.length > 0 ? ['who is in'] : []),
      ...dictionary.disputed,
      ...(file.conflicts.length > 0 ? ['the file'] : []),
    ];
    if (disputed.length > 0) throw changedSince(disputed.join(' and '));
    const planned = await planReading(cohort, dictionary.merged, selection.merged, file.merged);
    const design = await planDesign(planned, choices.merged);
    await atOnce(async () => {
      await planned.write();
      await design.write();
      await keepRevision(studyId, mine.what);
      await keepResults(studyId);
      await announce(studyId);
    });
    await beginSurvey(studyId);
  });
}

const fileOf = ({ uploadId, second }: Pick<CohortInfo, 'uploadId' | 'second'>) => ({
  uploadId,
  second,
});

const changedSince = (what: string) =>
  new Problem(
    409,
    'changed-since',
    `Others have changed ${what} since. Nothing was changed; change it by hand.`,
  );

/**
 * Carries out anew what is in force, where patients and division do not belong together; for studies
 * that an older version left half changed.
 */
export async function carryOutAnew(studyId: string): Promise<void> {
  await inTurn(studyId, async () => {
    const cohort = await needCohort(studyId);
    const before = await currentDesign(studyId);
    const wanted = before?.choices ?? startDesign(cohort.dictionary);
    const design = await planDesign(asItIs(cohort), wanted, { anew: true });
    await atOnce(async () => {
      await design.write();
      await keepRevision(studyId, before ? 'Split carried out anew' : `${cohort.name} brought in`);
      await announce(studyId);
    });
  });
}

/** Writes down what is in force after a change. */
export async function keepRevision(studyId: string, what: string): Promise<void> {
  const { id, dictionary, selection, uploadId, second } = await needCohort(studyId);
  const design = await currentDesign(studyId);
  if (!design) return;
  const { choices } = design;
  const { before, after } = await recordRevision(studyId, id, {
    what,
    dictionary,
    choices,
    selection,
    uploadId,
    second,
  });
  await recordAct(
    studyId,
    what,
    before === undefined ? undefined : { kind: 'state', before, after },
  );
}

export async function needCohort(studyId: string): Promise<CohortInfo> {
  const cohort = await developmentCohort(studyId);
  if (cohort) return cohort;
  throw new Problem(
    409,
    'no-cohort',
    'Bring in a development cohort in Records before the design.',
  );
}
