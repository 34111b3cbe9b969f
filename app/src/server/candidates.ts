import { and, asc, eq, getTableColumns, inArray, isNull, sql } from 'drizzle-orm';
import {
  familyOf,
  settingsSchema,
  type Coefficient,
  type FitWarning,
  type LikelihoodSummary,
  type Settings,
} from '@rook-scale/core/families';
import {
  crossValidated,
  cutoffRuleSchema,
  type CrossValidated,
  type CutoffRule,
  type ErrorCosts,
} from '@rook-scale/core/measures';
import type { InputMeaning } from '@rook-scale/core/preparation';
import type { Model } from '@rook-scale/core/screening';
import { atOnce, db, inTurn, tables } from './ground/database/index.ts';
import { currentDesign, type DesignState } from './designs/state.ts';
import { asFloats } from './files/index.ts';
import { announce, callOutCancel, requestFit } from './jobs/index.ts';
import { notFound, Problem } from './ground/problem.ts';

/** A candidate as one line of the table. */
export interface CandidateLine {
  id: string;
  number: number;
  name: string;
  family: string;
  settings: Settings;
  state: 'waiting' | 'fitting' | 'fitted' | 'failed' | 'cancelled';
  partsDone: number;
  partsTotal: number;
  /** Milliseconds since its fit began. */
  elapsed: number | null;
  problem: string | null;
  /** Fitted on another design than the one in force. */
  outOfDate: boolean;
  cutoffRule: CutoffRule;
  fittedAt: Date | null;
  /** AUC in the patients it was fitted on. */
  apparentArea: number | null;
  /** What is to be said of the fit. */
  warnings: FitWarning[];
  /** Its held-out results were looked at, in the fit it has now. */
  seen: boolean;
  /** Absent until it was fitted once. */
  results?: CrossValidated;
}

/** A candidate opened: what its family can say of itself. */
export interface CandidateDetail {
  id: string;
  warnings: FitWarning[];
  coefficients?: Coefficient[];
  likelihood?: LikelihoodSummary;
  inputs: InputMeaning[];
  preparation: Model['preparation'];
  labels: Record<string, { label: string; unit: string; kind: string }>;
}

/** Risks and outcomes of patients, packed for the browser. */
export interface Predictions {
  /** Base64 of little-endian Float64. */
  risks: string;
  /** Base64 of one byte a patient. */
  events: string;
}

type CandidateRow = typeof tables.candidate.$inferSelect;

/** Names as the interface shows them: the family, numbered where it is not the reference. */
export function candidateName({ family, number }: { family: string; number: number }): string {
  const { id, name } = familyOf(family);
  return id === 'reference' ? name : `${name} ${number}`;
}

const {
  model: _model,
  outOfFoldRisks: _outOfFold,
  folds: _folds,
  developmentEvents: _development,
  heldOutRisks: _heldOut,
  heldOutEvents: _heldOutEvents,
  ...lightColumns
} = getTableColumns(tables.candidate);

/** A candidate without model and predictions: all that a line needs. */
export type LightCandidate = Pick<CandidateRow, keyof typeof lightColumns>;
export const candidateLight = lightColumns;

export async function listCandidates(
  studyId: string,
  design?: DesignState,
): Promise<CandidateLine[]> {
  const inForce = design ?? (await currentDesign(studyId));
  const rows = await db()
    .select({ candidate: lightColumns, fitKey: tables.design.fitKey, seen: wasSeen })
    .from(tables.candidate)
    .innerJoin(tables.design, eq(tables.design.id, tables.candidate.designId))
    .innerJoin(tables.cohort, eq(tables.cohort.id, tables.design.cohortId))
    .where(
      and(
        eq(tables.candidate.studyId, studyId),
        isNull(tables.candidate.deletedAt),
        isNull(tables.cohort.deletedAt),
      ),
    )
    .orderBy(asc(tables.candidate.number));
  return Promise.all(
    rows.map(async ({ candidate, fitKey, seen }) => {
      const { id, number, family, settings, state, partsDone, partsTotal } = candidate;
      const { problem, cutoffRule, fittedAt, startedAt, apparentArea, warnings } = candidate;
      return {
        id,
        number,
        name: candidateName(candidate),
        family,
        settings,
        state,
        partsDone,
        partsTotal,
        elapsed: startedAt ? Date.now() - startedAt.getTime() : null,
        problem,
        outOfDate: !inForce || inForce.fitKey !== fitKey,
        cutoffRule,
        fittedAt,
        apparentArea,
        warnings,
        seen,
        results: fittedAt && inForce ? await judge(candidate, inForce.choices) : undefined,
      };
    }),
  );
}

/** Whether a look was taken at the fit that the candidate has now. */
const wasSeen = sql<boolean>`exists (
  select from ${tables.look}
  where ${tables.look.candidateId} = ${tables.candidate.id}
    and ${tables.look.fittedAt} = ${tables.candidate.fittedAt}
)`;

const judged = new Map<string, CrossValidated>();

/** What the figures of a line depend on. */
export function resultsKey(
  { fittedAt, cutoffRule }: Pick<LightCandidate, 'fittedAt' | 'cutoffRule'>,
  { missedCost, falseAlarmCost }: ErrorCosts,
): string {
  return JSON.stringify([fittedAt?.getTime(), cutoffRule, missedCost, falseAlarmCost]);
}

/** Out-of-fold results: as they were kept, or else worked out and remembered. */
async function judge(
  candidate: LightCandidate,
  costs: ErrorCosts,
): Promise<CrossValidated | undefined> {
  const key = resultsKey(candidate, costs);
  if (candidate.results?.key === key) return candidate.results.value;
  const place = `${candidate.id} ${key}`;
  const known = judged.get(place);
  if (known) return known;
  const { outOfFoldRisks, developmentEvents, folds } = await candidateRow(candidate.id);
  if (!outOfFoldRisks || !developmentEvents || !folds) return undefined;
  const result = crossValidated(
    asFloats(outOfFoldRisks),
    developmentEvents,
    folds,
    candidate.cutoffRule,
    costs,
  );
  if (judged.size > 500) judged.clear();
  judged.set(place, result);
  return result;
}

/** Keeps the figures of every candidate of a study under the costs in force, so that lists need only read them. */
export async function keepResults(studyId: string): Promise<void> {
  const design = await currentDesign(studyId);
  if (!design) return;
  const rows = await db()
    .select(lightColumns)
    .from(tables.candidate)
    .where(and(eq(tables.candidate.studyId, studyId), isNull(tables.candidate.deletedAt)));
  for (const candidate of rows) {
    if (!candidate.fittedAt) continue;
    const key = resultsKey(candidate, design.choices);
    if (candidate.results?.key === key) continue;
    const value = await judge(candidate, design.choices);
    if (value)
      await db()
        .update(tables.candidate)
        .set({ results: { key, value } })
        .where(eq(tables.candidate.id, candidate.id));
  }
}

export async function candidateRow(id: string): Promise<CandidateRow> {
  const [found] = await db()
    .select()
    .from(tables.candidate)
    .where(and(eq(tables.candidate.id, id), isNull(tables.candidate.deletedAt)));
  if (!found) throw notFound('The candidate');
  return found;
}

/** The cutoff that the candidate's rule gives on its out-of-fold predictions. */
export async function candidateCutoff(candidate: LightCandidate): Promise<number> {
  const design = await currentDesign(candidate.studyId);
  const results = design && (await judge(candidate, design.choices));
  if (!results) throw notFitted();
  return results.cutoff;
}

const notFitted = () =>
  new Problem(
    409,
    'not-fitted',
    'This candidate has not been fitted yet. Fit it in Candidates first.',
  );

/** A fitted candidate with its model; an error says so when there is none yet. */
export async function fittedCandidate(id: string): Promise<CandidateRow & { model: Model }> {
  const candidate = await candidateRow(id);
  if (!candidate.model) throw notFitted();
  return { ...candidate, model: candidate.model };
}

export async function candidateDetail(id: string): Promise<CandidateDetail> {
  const { model } = await fittedCandidate(id);
  const fitted = familyOf(model.family.id).revive(model.family.fitted);
  return {
    id,
    warnings: fitted.warnings,
    coefficients: fitted.coefficients,
    likelihood: fitted.likelihood,
    inputs: model.preparation.inputs,
    preparation: model.preparation,
    labels: Object.fromEntries(
      model.predictors.map(({ name, label, unit, kind }) => [name, { label, unit, kind }]),
    ),
  };
}

export async function outOfFoldPredictions(id: string): Promise<Predictions> {
  const { outOfFoldRisks, developmentEvents } = await candidateRow(id);
  if (!outOfFoldRisks || !developmentEvents) throw notFitted();
  return pack(outOfFoldRisks, developmentEvents);
}

export function pack(risks: Buffer, events: Buffer): Predictions {
  return { risks: risks.toString('base64'), events: events.toString('base64') };
}

/** Makes a candidate and asks for its fit. */
export async function addCandidate(
  studyId: string,
  family: string,
  settings: Settings,
): Promise<string> {
  const checked = checkSettings(family, settings);
  return inTurn(studyId, async () => {
    const design = await readyDesign(studyId);
    return atOnce(async () => {
      const id = await insertCandidate(studyId, design.id, family, checked);
      await announce(studyId);
      return id;
    });
  });
}

async function insertCandidate(
  studyId: string,
  designId: string,
  family: string,
  settings: Settings,
): Promise<string> {
  // Numbers come from the study's own row, so that two at once never get the same.
  const [{ made }] = await db()
    .update(tables.study)
    .set({ candidatesMade: sql`${tables.study.candidatesMade} + 1` })
    .where(eq(tables.study.id, studyId))
    .returning({ made: tables.study.candidatesMade });
  const [{ id }] = await db()
    .insert(tables.candidate)
    .values({
      studyId,
      designId,
      number: made - 1,
      family,
      settings,
      cutoffRule: { rule: 'cheapest' },
    })
    .returning({ id: tables.candidate.id });
  await requestFit(id);
  return id;
}

function checkSettings(family: string, settings: Settings): Settings {
  try {
    return settingsSchema(familyOf(family).settings).parse(settings);
  } catch (error) {
    if (error instanceof Error && error.message.startsWith('There is no model family'))
      throw new Problem(400, 'no-family', error.message);
    throw error;
  }
}

async function readyDesign(studyId: string): Promise<DesignState> {
  const design = await currentDesign(studyId);
  if (design?.divisionId) return design;
  const why = design?.obstacle ?? design?.questions.join(' ') ?? 'Bring in a development cohort.';
  throw new Problem(409, 'design-open', `The design is not complete. ${why}`);
}

/** The reference candidate is there from the moment the design can be carried out, and follows it. */
export async function ensureReference(
  studyId: string,
  design: Pick<DesignState, 'id' | 'fitKey'>,
): Promise<void> {
  const [existing] = await db()
    .select({ id: tables.candidate.id, fitKey: tables.design.fitKey })
    .from(tables.candidate)
    .innerJoin(tables.design, eq(tables.design.id, tables.candidate.designId))
    .innerJoin(tables.cohort, eq(tables.cohort.id, tables.design.cohortId))
    .where(
      and(
        eq(tables.candidate.studyId, studyId),
        eq(tables.candidate.family, 'reference'),
        isNull(tables.cohort.deletedAt),
      ),
    );
  if (!existing) await insertCandidate(studyId, design.id, 'reference', {});
  else if (existing.fitKey !== design.fitKey) await refit([existing.id], design.id);
}

/** Fits these candidates again on the design in force; their old results stay readable until then. */
export async function refitCandidates(studyId: string, ids: string[]): Promise<void> {
  await inTurn(studyId, async () => {
    const design = await readyDesign(studyId);
    const { candidate } = tables;
    const own = await db()
      .select({ id: candidate.id })
      .from(candidate)
      .where(
        and(
          eq(candidate.studyId, studyId),
          isNull(candidate.deletedAt),
          inArray(candidate.id, ids),
        ),
      );
    await atOnce(async () => {
      await refit(
        own.map((row) => row.id),
        design.id,
      );
      await announce(studyId);
    });
  });
}

async function refit(ids: string[], designId: string): Promise<void> {
  if (ids.length === 0) return;
  await db().delete(tables.fitPart).where(inArray(tables.fitPart.candidateId, ids));
  await db()
    .update(tables.candidate)
    .set({
      state: 'waiting',
      designId,
      partsDone: 0,
      problem: null,
      startedAt: null,
      heartbeatAt: null,
      fitRun: sql`${tables.candidate.fitRun} + 1`,
    })
    .where(inArray(tables.candidate.id, ids));
  for (const id of ids) await requestFit(id);
}

/** Stops a fit that waits or runs. A result from before stays. */
export async function cancelFit(id: string): Promise<void> {
  const [cancelled] = await db()
    .update(tables.candidate)
    .set({
      state: 'cancelled',
      fitRun: sql`${tables.candidate.fitRun} + 1`,
      // The end of it, for the queue.
      heartbeatAt: sql`now()`,
    })
    .where(
      and(eq(tables.candidate.id, id), inArray(tables.candidate.state, ['waiting', 'fitting'])),
    )
    .returning({ studyId: tables.candidate.studyId });
  if (!cancelled) return;
  await callOutCancel(id);
  await announce(cancelled.studyId);
}

export async function setCutoffRule(id: string, rule: CutoffRule): Promise<void> {
  const { studyId, family } = await candidateRow(id);
  if (family === 'reference' && rule.rule !== 'cheapest')
    throw new Problem(
      409,
      'reference-cutoff',
      'The reference candidate gives every patient the same risk: its cutoff is always the cheapest.',
    );
  await inTurn(studyId, () =>
    atOnce(async () => {
      await db()
        .update(tables.candidate)
        .set({ cutoffRule: cutoffRuleSchema.parse(rule) })
        .where(eq(tables.candidate.id, id));
      await keepResults(studyId);
      await announce(studyId);
    }),
  );
}
