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
import { Problem } from '../ground/problem.ts';
import { beginSurvey } from '../surveys/index.ts';
import { asItIs, planDesign, planFollowing } from './plan.ts';
import { beginSides } from './sides.ts';
import { pointTo, recordRevision, stepFrom } from './revisions.ts';
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
  { studyId, purpose }: CohortInfo,
  planned: PlannedCohort,
  describe: () => string | undefined,
): Promise<void> {
  const design = purpose === 'development' ? await planFollowing(planned) : undefined;
  await atOnce(async () => {
    await planned.write();
    if (design) {
      await design.write();
      const what = describe();
      if (what) await keepRevision(studyId, what);
    }
    await announce(studyId);
  });
  if (design) await beginSurvey(studyId);
}

function mergeDictionary(theirs: Dictionary, { base, mine, insist }: Edit<Dictionary>): Dictionary {
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
  if (disputed.length > 0 && !insist)
    throw editedElsewhere(`the dictionary: ${disputed.join(', ')}`);
  return [...merged, ...added];
}

/** Goes one change of dictionary or design back or forward again; says which. */
export async function step(studyId: string, direction: 'undo' | 'redo'): Promise<string> {
  return inTurn(studyId, async () => {
    const found = await stepFrom(studyId, direction);
    if (!found)
      throw new Problem(409, 'no-step', `There is nothing to ${direction}. Nothing was changed.`);
    const { target, what } = found;
    const cohort = await cohortInfo(target.cohortId);
    const planned = await planReading(cohort, target.dictionary, target.selection, target);
    const design = await planDesign(planned, target.choices);
    await atOnce(async () => {
      await planned.write();
      await design.write();
      await pointTo(studyId, target.number);
      await keepResults(studyId);
      await announce(studyId);
    });
    await beginSurvey(studyId);
    return what;
  });
}

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
  await recordRevision(studyId, id, {
    what,
    dictionary,
    choices,
    selection,
    uploadId,
    second,
  });
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
