import { createHash } from 'node:crypto';
import { eq } from 'drizzle-orm';
import {
  DesignError,
  designSchema,
  divisionKey,
  fitKey,
  openQuestions,
  startDesign,
  type Design,
} from '@rook-scale/core/design';
import { isAboutRows, canPredict, type Dictionary } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import type { DesignState } from '../../contract/designs.ts';
import { ensureReference } from '../candidates/index.ts';
import {
  cohortFingerprint,
  cohortInfo,
  keptRows,
  loadTable,
  type PlannedCohort,
} from '../cohorts/index.ts';
import { recordAct } from '../acts/index.ts';
import { askAboutSeen } from '../seen-patients.ts';
import { divisionOf } from '../division-of.ts';
import { db, tables } from '../ground/database/index.ts';
import { asBytes } from '../files/index.ts';
import { same } from '../ground/same.ts';
import { divideCohort } from './divide.ts';
import type { Divided } from './divide-table.ts';
import { currentDesign } from '../design-in-force.ts';

/** A design as it will be, carried out but not written yet. */
export interface PlannedDesign {
  choices: Design;
  /** Why it cannot be carried out on these patients. */
  obstacle?: string;
  /** Who is where, where that was divided anew. */
  divided?: Divided;
  /** Puts it in force, as part of the change at hand: roles, split, folds, reference candidate. */
  write: () => Promise<void>;
}

/** What a design is carried out on: a cohort as it is, or as it will be. */
export type Patients = Pick<PlannedCohort, 'after' | 'table' | 'fileRows'>;

export const asItIs = (cohort: CohortInfo): Patients => ({
  after: cohort,
  table: (names) => loadTable(cohort, names),
  fileRows: () => keptRows(cohort),
});

/**
 * Carries out a design on these patients, where it is not carried out on them already.
 *
 * @param options.anew also where it is
 */
export async function planDesign(
  patients: Patients,
  wanted: Design,
  { anew = false } = {},
): Promise<PlannedDesign> {
  const { after: cohort } = patients;
  const { studyId } = cohort;
  const choices = tidy(designSchema.parse(wanted), cohort.dictionary);
  const before = await currentDesign(studyId);
  const key = carriedOutKey(choices, cohort);
  const kept = anew ? null : await sameDivision(before, choices, cohort);
  const outcome: Awaited<ReturnType<typeof carryOut>> = kept
    ? {}
    : await carryOut(patients, choices);
  const moved =
    outcome.divided && !anew ? await movedPatients(patients, before, outcome.divided) : 0;
  return {
    choices,
    obstacle: outcome.obstacle,
    divided: outcome.divided,
    async write() {
      if (moved > 0)
        await recordAct(
          studyId,
          `${moved} patients whose results were shown became development patients`,
        );
      const divisionId =
        kept ?? (outcome.divided ? await storeDivision(cohort, outcome.divided) : null);
      const [{ id }] = await db()
        .insert(tables.design)
        .values({
          studyId,
          cohortId: cohort.id,
          choices,
          fitKey: key,
          divisionId,
          obstacle: outcome.obstacle ?? null,
        })
        .returning({ id: tables.design.id });
      await db().update(tables.study).set({ designId: id }).where(eq(tables.study.id, studyId));
      await db()
        .update(tables.cohort)
        .set({ dictionary: withRoles(cohort.dictionary, choices) })
        .where(eq(tables.cohort.id, cohort.id));
      if (divisionId)
        await ensureReference(studyId, {
          id,
          choices,
          fitKey: key,
          patients: cohortFingerprint(cohort),
        });
    },
  };
}

/** Patients who were shown already and would be learned from; asks where there are such. */
async function movedPatients(
  { after, fileRows }: Patients,
  before: DesignState | undefined,
  { sides }: Divided,
): Promise<number> {
  const cohort = await cohortInfo(after.id).catch(() => undefined);
  // A cohort that is only being brought in has shown nobody.
  if (!cohort) return 0;
  const now =
    before?.divisionId && before.patients === cohortFingerprint(cohort)
      ? (await divisionOf(before.divisionId)).sides
      : undefined;
  return askAboutSeen(cohort, now, { sides, fileRows: await fileRows() });
}

/** The division in force, where it is the one that these choices give of these patients. */
async function sameDivision(
  before: DesignState | undefined,
  choices: Design,
  cohort: CohortInfo,
): Promise<string | null> {
  if (!before?.divisionId) return null;
  // Where a case is something else now, the counts are others, though the sides are the same.
  if (!same(casesIn(before.choices), casesIn(choices))) return null;
  if (divisionKey(before.choices) !== divisionKey(choices)) return null;
  if (openQuestions(choices, cohort.dictionary).length > 0) return null;
  const [division] = await db()
    .select({ patients: tables.division.patients })
    .from(tables.division)
    .where(eq(tables.division.id, before.divisionId));
  return division?.patients === cohortFingerprint(cohort) ? before.divisionId : null;
}

/** The design that follows a new or mended dictionary: roles from it, everything else kept where it still fits. */
export async function planFollowing(patients: Patients): Promise<PlannedDesign> {
  const { studyId, dictionary } = patients.after;
  const start = startDesign(dictionary);
  const before = (await currentDesign(studyId))?.choices;
  const kept = before ? { ...before, outcome: start.outcome, predictors: start.predictors } : start;
  return planDesign(patients, kept);
}

/** Equal for designs and patients that give the same numbers. */
export function carriedOutKey(choices: Design, cohort: CohortInfo): string {
  return createHash('sha256')
    .update(fitKey(choices) + cohortFingerprint(cohort))
    .digest('hex');
}

async function carryOut(
  patients: Patients,
  choices: Design,
): Promise<{ divided?: Divided; obstacle?: string }> {
  if (openQuestions(choices, patients.after.dictionary).length > 0) return {};
  try {
    return { divided: await divideCohort(patients, choices) };
  } catch (error) {
    if (error instanceof DesignError) return { obstacle: error.message };
    throw error;
  }
}

async function storeDivision(
  cohort: CohortInfo,
  { sides, folds, counts }: Divided,
): Promise<string> {
  const patients = cohortFingerprint(cohort);
  const { studyId } = cohort;
  const [{ id }] = await db()
    .insert(tables.division)
    .values({ studyId, sides: asBytes(sides), folds: asBytes(folds), counts, patients })
    .returning({ id: tables.division.id });
  return id;
}

const casesIn = ({ kind, cases, caseFrom, caseSide }: Design) =>
  kind === 'event' ? [] : kind === 'levels' ? cases : [caseFrom, caseSide];

/** Drops what the cohort does not have, so that a design never names a column or level that is gone. */
function tidy(design: Design, dictionary: Dictionary): Design {
  const outcome = dictionary.find(
    (entry) =>
      entry.name === design.outcome && (entry.levels !== undefined || entry.kind === 'number'),
  );
  const levels = outcome?.levels ?? [];
  // A number can only be predicted as one, and levels only as levels or one of them.
  const kind =
    outcome?.kind === 'number' ? 'number' : design.kind === 'number' ? 'event' : design.kind;
  const { split } = design;
  // A column that marks who is held out tells the sides apart, and nothing of a patient to come.
  const marker = split.way === 'by column' ? split.column : undefined;
  const usable = new Set(
    dictionary
      .filter((entry) => canPredict(entry.kind) && !isAboutRows(entry) && entry.name !== marker)
      .map((entry) => entry.name),
  );
  const numeric = (name: string) =>
    dictionary.some((entry) => entry.name === name && entry.kind === 'number') ? name : '';
  const predictors = design.predictors.filter((name) => usable.has(name) && name !== outcome?.name);
  return {
    ...design,
    outcome: outcome?.name ?? '',
    kind,
    event: levels.includes(design.event) ? design.event : '',
    reference: levels.includes(design.reference) ? design.reference : '',
    cases: design.cases.filter((level) => levels.includes(level)),
    predictors,
    needed: design.needed.filter((name) => predictors.includes(name)),
    fixed: design.fixed.filter((name) => predictors.includes(name)),
    ownCosts: {
      missed: numeric(design.ownCosts.missed),
      falseAlarm: numeric(design.ownCosts.falseAlarm),
    },
    predictorSets: design.predictorSets.map((set) => ({
      ...set,
      predictors: set.predictors.filter((name) => usable.has(name) && name !== outcome?.name),
    })),
  };
}

/** Roles as the design uses the columns: one truth for Records and Design. */
function withRoles(dictionary: Dictionary, design: Design): Dictionary {
  const predictors = new Set(design.predictors);
  return dictionary.map((entry) => {
    if (isAboutRows(entry)) return entry;
    const role =
      entry.name === design.outcome
        ? ('outcome' as const)
        : predictors.has(entry.name)
          ? ('predictor' as const)
          : ('set aside' as const);
    return { ...entry, role };
  });
}
