import { eq } from 'drizzle-orm';
import { createHash } from 'node:crypto';
import {
  DesignError,
  designSchema,
  divide,
  fitKey,
  openQuestions,
  startDesign,
  type Design,
} from '@rook-scale/core/design';
import { canPredict, type Dictionary } from '@rook-scale/core/table';
import { cohortFingerprint, developmentCohort, loadTable, type CohortInfo } from './cohorts.ts';
import { db, tables } from './database/index.ts';
import { asBytes } from './files/index.ts';
import { ensureReference } from './candidates.ts';
import { currentDesign, type DesignState } from './design-state.ts';
import { announce } from './jobs/announce.ts';
import { Problem } from './problem.ts';

/** Puts a new version of the design in force and carries it out: split, folds, reference candidate. */
export async function saveDesign(studyId: string, wanted: Design): Promise<DesignState> {
  const cohort = await developmentCohort(studyId);
  if (!cohort)
    throw new Problem(
      409,
      'no-cohort',
      'Bring in a development cohort in Records before the design.',
    );
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
  await announce(studyId);
  return state;
}

/** The design that follows a new or mended dictionary: roles from it, everything else kept where it still fits. */
export async function followDictionary(studyId: string): Promise<void> {
  const cohort = await developmentCohort(studyId);
  if (!cohort) return;
  const start = startDesign(cohort.dictionary);
  const before = (await currentDesign(studyId))?.choices;
  const kept = before ? { ...before, outcome: start.outcome, predictors: start.predictors } : start;
  await saveDesign(studyId, kept);
}

async function carryOut(studyId: string, cohort: CohortInfo, choices: Design) {
  if (openQuestions(choices, cohort.dictionary).length > 0)
    return { divisionId: null, obstacle: null };
  try {
    const identifier = cohort.dictionary.find((entry) => entry.role === 'identifier');
    const names = identifier ? [identifier.name, choices.outcome] : undefined;
    const { sides, folds, counts } = divide(await loadTable(cohort, names), choices);
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
  return {
    ...design,
    outcome: outcome?.name ?? '',
    event: outcome?.levels?.includes(design.event) ? design.event : '',
    predictors: design.predictors.filter((name) => usable.has(name) && name !== outcome?.name),
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
