import { and, asc, eq, isNull, sql } from 'drizzle-orm';
import type { FitWarning, Settings } from '@rook-scale/core/families';
import type { CrossValidated, CutoffRule } from '@rook-scale/core/measures';
import type { Model } from '@rook-scale/core/screening';
import { currentDesign, type DesignState } from '../design-in-force.ts';
import { db, tables } from '../ground/database/index.ts';
import { casesInForce } from './cases.ts';
import { judge } from './judge.ts';
import { candidateName } from './store.ts';

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
  /** What it predicts; absent until it was fitted once. */
  outcome?: Model['outcome'];
  /** Fitted on another design than the one in force. */
  outOfDate: boolean;
  cutoffRule: CutoffRule;
  /** When its fit ended, ISO 8601. */
  fittedAt: string | null;
  /** AUC in the patients it was fitted on. */
  apparentArea: number | null;
  /** What is to be said of the fit. */
  warnings: FitWarning[];
  /** Its held-out results were looked at, in the fit it has now. */
  seen: boolean;
  /** Absent until it was fitted once. */
  results?: CrossValidated;
}

export async function listCandidates(
  studyId: string,
  design?: DesignState,
): Promise<CandidateLine[]> {
  const inForce = design ?? (await currentDesign(studyId));
  const rows = await db()
    .select({ candidate: tables.candidate, fitKey: tables.design.fitKey, seen: wasSeen })
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
      const { problem, cutoffRule, fittedAt, startedAt, apparentArea, warnings, outcome } =
        candidate;
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
        ...(outcome && {
          outcome: { ...outcome, cases: casesInForce(outcome, inForce?.choices) },
        }),
        outOfDate: !inForce || inForce.fitKey !== fitKey,
        cutoffRule,
        fittedAt: fittedAt?.toISOString() ?? null,
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
