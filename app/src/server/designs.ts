import { eq } from 'drizzle-orm';
import { createHash } from 'node:crypto';
import {
  describeDesignChange,
  describeDictionaryChange,
  describeSelectionChange,
  DesignError,
  designSchema,
  fitKey,
  openQuestions,
  startDesign,
  type Design,
} from '@rook-scale/core/design';
import type { Selection } from '@rook-scale/core/selection';
import { canPredict, display, type Dictionary } from '@rook-scale/core/table';
import {
  cohortFingerprint,
  cohortInfo,
  developmentCohort,
  rereadCohort,
  type CohortInfo,
} from './cohorts/index.ts';
import { db, tables } from './database/index.ts';
import { asBytes } from './files/index.ts';
import { ensureReference, keepResults } from './candidates.ts';
import { divideCohort } from './divide-cohort.ts';
import { currentDesign, type DesignState } from './design-state.ts';
import { announce } from './jobs/announce.ts';
import { editedElsewhere, inTurn, mergeEdits } from './merge.ts';
import { Problem } from './problem.ts';
import { beginSurvey } from './surveys/index.ts';
import { pointTo, recordRevision, stepFrom } from './revisions.ts';

/** What a page changed: what it started from, and what it wants. */
export interface DesignEdit {
  base: Design;
  mine: Design;
  /** Wins over what another tab changed meanwhile. */
  insist?: boolean;
}

/** Puts a changed design in force and carries it out: split, folds, reference candidate. */
export function changeDesign(studyId: string, edit: DesignEdit): Promise<DesignState> {
  return inTurn(studyId, async () => {
    const cohort = await needCohort(studyId);
    const before = await currentDesign(studyId);
    const theirs = before?.choices ?? startDesign(cohort.dictionary);
    const { merged, conflicts } = mergeEdits(edit.base, edit.mine, theirs);
    if (conflicts.length > 0 && !edit.insist)
      throw editedElsewhere(conflicts.map((field) => fieldNames[field] ?? field).join(' and '));
    const state = await putInForce(studyId, cohort, merged);
    const what = describeDesignChange(theirs, state.choices, cohort.dictionary);
    if (what) await keepRevision(studyId, what);
    if (
      state.choices.missedCost !== theirs.missedCost ||
      state.choices.falseAlarmCost !== theirs.falseAlarmCost
    )
      await keepResults(studyId);
    await announce(studyId);
    return state;
  });
}

const fieldNames: Record<string, string> = {
  outcome: 'the outcome',
  event: 'the event',
  predictors: 'the predictors',
  needed: 'what must be known',
  heldOutShare: 'the held-out share',
  seed: 'the seed',
  missedCost: 'the cost of a missed case',
  falseAlarmCost: 'the cost of a false alarm',
};

/** What a page changed in the dictionary of the development cohort or of a list. */
export interface DictionaryEdit {
  base: Dictionary;
  mine: Dictionary;
  insist?: boolean;
}

/** Puts a mended dictionary in force; of the development cohort's, the design follows. */
export async function changeDictionary(cohortId: string, edit: DictionaryEdit): Promise<void> {
  const { studyId } = await cohortInfo(cohortId);
  await inTurn(studyId, async () => {
    const cohort = await cohortInfo(cohortId);
    const merged = mergeDictionary(cohort.dictionary, edit);
    await rereadCohort(cohortId, merged);
    if (cohort.purpose === 'development') {
      await followDictionary(studyId);
      const what = describeDictionaryChange(
        cohort.dictionary,
        (await cohortInfo(cohortId)).dictionary,
      );
      if (what) await keepRevision(studyId, what);
    }
    await announce(studyId);
  });
}

function mergeDictionary(theirs: Dictionary, { base, mine, insist }: DictionaryEdit): Dictionary {
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

/** What a page changed of who is in. */
export interface SelectionEdit {
  base: Selection;
  mine: Selection;
  insist?: boolean;
}

/** Puts another selection of patients of the development cohort in force. */
export async function changeSelection(cohortId: string, edit: SelectionEdit): Promise<void> {
  const { studyId } = await cohortInfo(cohortId);
  await inTurn(studyId, async () => {
    const cohort = await cohortInfo(cohortId);
    const { merged, conflicts } = mergeEdits(edit.base, edit.mine, cohort.selection);
    if (conflicts.length > 0 && !edit.insist) throw editedElsewhere('who is in');
    await rereadCohort(cohortId, cohort.dictionary, merged);
    if (cohort.purpose === 'development') {
      await followDictionary(studyId);
      const what = describeSelectionChange(cohort.selection, merged);
      if (what) await keepRevision(studyId, what);
    }
    await announce(studyId);
  });
}

/** Goes one change of dictionary or design back or forward again; says which. */
export async function step(studyId: string, direction: 'undo' | 'redo'): Promise<string> {
  return inTurn(studyId, async () => {
    const found = await stepFrom(studyId, direction);
    if (!found)
      throw new Problem(409, 'no-step', `There is nothing to ${direction}. Nothing was changed.`);
    const { target, what } = found;
    await rereadCohort(target.cohortId, target.dictionary, target.selection);
    await putInForce(studyId, await needCohort(studyId), target.choices);
    await pointTo(studyId, target.number);
    await keepResults(studyId);
    await announce(studyId);
    return what;
  });
}

/** The first revision of a study: its development cohort as it was brought in. */
export async function beginDesign(studyId: string): Promise<void> {
  const { name } = await needCohort(studyId);
  await followDictionary(studyId);
  await keepRevision(studyId, `${name} brought in`);
}

async function keepRevision(studyId: string, what: string): Promise<void> {
  const { id, dictionary, selection } = await needCohort(studyId);
  const design = await currentDesign(studyId);
  if (!design) return;
  const { choices } = design;
  await recordRevision(studyId, id, { what, dictionary, choices, selection });
}

async function needCohort(studyId: string): Promise<CohortInfo> {
  const cohort = await developmentCohort(studyId);
  if (cohort) return cohort;
  throw new Problem(
    409,
    'no-cohort',
    'Bring in a development cohort in Records before the design.',
  );
}

async function putInForce(
  studyId: string,
  cohort: CohortInfo,
  wanted: Design,
): Promise<DesignState> {
  const choices = tidy(designSchema.parse(wanted), cohort.dictionary);
  const before = await currentDesign(studyId);
  const key = createHash('sha256')
    .update(fitKey(choices) + cohortFingerprint(cohort))
    .digest('hex');
  const same = before?.fitKey === key && before.divisionId !== null;
  const outcome = same
    ? { divisionId: before.divisionId, obstacle: null }
    : await carryOut(studyId, cohort, choices);
  await db().transaction(async (tx) => {
    const [{ id }] = await tx
      .insert(tables.design)
      .values({ studyId, cohortId: cohort.id, choices, fitKey: key, ...outcome })
      .returning({ id: tables.design.id });
    await tx.update(tables.study).set({ designId: id }).where(eq(tables.study.id, studyId));
    await tx
      .update(tables.cohort)
      .set({ dictionary: withRoles(cohort.dictionary, choices) })
      .where(eq(tables.cohort.id, cohort.id));
  });
  const state = await currentDesign(studyId);
  if (!state) throw new Error('The design just saved is not there.');
  if (state.divisionId) await ensureReference(studyId, state);
  await beginSurvey(studyId);
  return state;
}

/** The design that follows a new or mended dictionary: roles from it, everything else kept where it still fits. */
async function followDictionary(studyId: string): Promise<void> {
  const cohort = await needCohort(studyId);
  const start = startDesign(cohort.dictionary);
  const before = (await currentDesign(studyId))?.choices;
  const kept = before ? { ...before, outcome: start.outcome, predictors: start.predictors } : start;
  await putInForce(studyId, cohort, kept);
}

async function carryOut(studyId: string, cohort: CohortInfo, choices: Design) {
  if (openQuestions(choices, cohort.dictionary).length > 0)
    return { divisionId: null, obstacle: null };
  try {
    const { sides, folds, counts } = await divideCohort(cohort, choices);
    const [{ id }] = await db()
      .insert(tables.division)
      .values({ studyId, sides: asBytes(sides), folds: asBytes(folds), counts })
      .returning({ id: tables.division.id });
    return { divisionId: id, obstacle: null };
  } catch (error) {
    if (error instanceof DesignError) return { divisionId: null, obstacle: error.message };
    throw error;
  }
}

/** Drops what the cohort does not have, so that a design never names a column or level that is gone. */
function tidy(design: Design, dictionary: Dictionary): Design {
  const outcome = dictionary.find(
    (entry) => entry.name === design.outcome && entry.levels !== undefined,
  );
  const usable = new Set(
    dictionary
      .filter((entry) => canPredict(entry.kind) && entry.role !== 'identifier')
      .map((entry) => entry.name),
  );
  const predictors = design.predictors.filter((name) => usable.has(name) && name !== outcome?.name);
  return {
    ...design,
    outcome: outcome?.name ?? '',
    event: outcome?.levels?.includes(design.event) ? design.event : '',
    predictors,
    needed: design.needed.filter((name) => predictors.includes(name)),
  };
}

/** Roles as the design uses the columns: one truth for Records and Design. */
function withRoles(dictionary: Dictionary, design: Design): Dictionary {
  const predictors = new Set(design.predictors);
  return dictionary.map((entry) => {
    if (entry.role === 'identifier') return entry;
    const role =
      entry.name === design.outcome
        ? ('outcome' as const)
        : predictors.has(entry.name)
          ? ('predictor' as const)
          : ('set aside' as const);
    return { ...entry, role };
  });
}
