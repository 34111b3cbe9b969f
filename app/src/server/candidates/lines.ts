import { and, asc, eq, isNull, sql } from 'drizzle-orm';
import type { Design } from '@rook-scale/core/design';
import { familyOf } from '@rook-scale/core/families';
import type { DesignState } from '../../contract/designs.ts';
import { currentDesign } from '../design-in-force.ts';
import { db, tables } from '../ground/database/index.ts';
import { casesInForce } from './cases.ts';
import { judge } from './judge.ts';
import { sameFit } from './same-fit.ts';
import { candidateName, type CandidateRow } from './store.ts';
import type { CandidateLine } from '../../contract/candidates.ts';

export async function listCandidates(
  studyId: string,
  design?: DesignState,
): Promise<CandidateLine[]> {
  const inForce = design ?? (await currentDesign(studyId));
  const rows = await db()
    .select({
      candidate: tables.candidate,
      choices: tables.design.choices,
      fitKey: tables.design.fitKey,
      patients: tables.division.patients,
      seen: wasSeen,
    })
    .from(tables.candidate)
    .innerJoin(tables.design, eq(tables.design.id, tables.candidate.designId))
    .innerJoin(tables.cohort, eq(tables.cohort.id, tables.design.cohortId))
    .leftJoin(tables.division, eq(tables.division.id, tables.design.divisionId))
    .where(
      and(
        eq(tables.candidate.studyId, studyId),
        isNull(tables.candidate.deletedAt),
        isNull(tables.cohort.deletedAt),
      ),
    )
    .orderBy(asc(tables.candidate.number));
  return Promise.all(
    rows.map(async ({ candidate, seen, ...fittedOn }) => {
      const { id, number, note, group, family, settings, basis, state } = candidate;
      const { partsDone, partsTotal, partsBegun, learning } = candidate;
      const { chosen, searchId } = candidate;
      const { problem, cutoffRule, fittedAt, startedAt, apparentArea, warnings, outcome } =
        candidate;
      const { parts, size, scoreTime } = candidate;
      return {
        id,
        number,
        name: candidateName(candidate),
        note,
        group,
        family,
        settings,
        basis,
        ...(parts && { parts }),
        ...(chosen && { chosen: { ...chosen, ...(searchId && { searchId }) } }),
        state,
        partsDone,
        partsTotal,
        partsBegun,
        ...(state === 'fitting' && learning && { learning }),
        elapsed: startedAt ? Date.now() - startedAt.getTime() : null,
        problem,
        uses: usedBy(candidate, fittedOn.choices),
        ...(outcome && {
          outcome: { ...outcome, cases: casesInForce(outcome, inForce?.choices) },
        }),
        outOfDate: !inForce || !sameFit(candidate, fittedOn, inForce),
        cutoffRule,
        fittedAt: fittedAt?.toISOString() ?? null,
        fitTime: fitTime(candidate),
        ...(size && { size }),
        scoreTime,
        apparentArea,
        warnings,
        seen,
        results: fittedAt && inForce ? await judge(candidate, inForce.choices) : undefined,
      };
    }),
  );
}

/** Of the fit that there is; not known while another is under way. */
const fitTime = ({ startedAt, fittedAt }: CandidateRow): number | null =>
  startedAt && fittedAt && fittedAt > startedAt ? fittedAt.getTime() - startedAt.getTime() : null;

/** The predictors of a candidate; none of a set that is not kept any more. */
function usedBy(
  { family, basis, parts }: Pick<CandidateRow, 'family' | 'basis' | 'parts'>,
  choices: Design,
): string[] {
  if (parts)
    return [...new Set(parts.flatMap((part) => usedBy({ ...part, parts: null }, choices)))];
  const { blind, fixed } = familyOf(family).description;
  if (blind || fixed) return [];
  if (basis.own) return basis.own;
  const kept = choices.predictorSets.find(({ name }) => name === basis.predictors);
  return basis.predictors === undefined ? choices.predictors : (kept?.predictors ?? []);
}

/** Whether a look was taken at the fit that the candidate has now. */
const wasSeen = sql<boolean>`exists (
  select from ${tables.look}
  where ${tables.look.candidateId} = ${tables.candidate.id}
    and ${tables.look.fittedAt} = ${tables.candidate.fittedAt}
)`;
