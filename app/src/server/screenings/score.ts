import { sql } from 'drizzle-orm';
import { familyOf } from '@rook-scale/core/families';
import type { AlignedPredictor, CallRule } from '@rook-scale/core/screening';
import { display } from '@rook-scale/core/table';
import { candidateRow, currentVersion, listCandidates } from '../candidates/index.ts';
import { recordAct } from '../acts/index.ts';
import { cohortFingerprint, cohortInfo } from '../cohorts/index.ts';
import { atOnce, db, inTurn, tables } from '../ground/database/index.ts';
import { asBytes } from '../files/index.ts';
import { announce } from '../jobs/index.ts';
import { notFound, Problem } from '../ground/problem.ts';
import { same } from '../ground/same.ts';
import { onThread } from '../threads/index.ts';
import { meetModel, type Meeting } from './meet.ts';

/**
 * Scores a cohort with a candidate and keeps the result; scoring again replaces it.
 *
 * @param options.accept score also patients whose risk rests on values hardly any development patient had
 * @param options.unchecked score also with a fit that was not checked on held-out patients, or is out of date
 */
export async function scoreCohort(
  studyId: string,
  cohortId: string,
  candidateId: string,
  { accept = false, unchecked = false }: { accept?: boolean; unchecked?: boolean } = {},
): Promise<string> {
  const meeting = await meetModel(studyId, cohortId, candidateId);
  refuse(meeting, accept);
  if (!unchecked) await refuseUnchecked(studyId, candidateId);
  const { cohort, task, fittedAt } = meeting;
  const { cases } = task.model.outcome;
  const scored = await onThread('score', { ...task, cases });
  const { intervals, outcome, unfamiliar, unusual } = scored;
  const values = {
    studyId,
    cohortId,
    candidateId,
    header: scored.header,
    values: asBytes(scored.values),
    cases,
    ranking: asBytes(scored.ranking),
    intervals: intervals ? asBytes(intervals) : null,
    outcome: outcome ? asBytes(outcome) : null,
    predictors: scored.predictors,
    extraColumns: scored.extra,
    patients: cohortFingerprint(cohort),
    matching: task.matching,
    unfamiliar: unfamiliar.names,
    unfamiliarRows: unfamiliar.names.length > 0 ? asBytes(unfamiliar.rows) : null,
    unusual: unusual ? asBytes(unusual.scores) : null,
    unusualFrom: unusual?.from ?? null,
  };
  return inTurn(studyId, () => keep(values, fittedAt));
}

/** Keeps scores, unless list or fit have changed while they were worked out. */
async function keep(
  scored: typeof tables.screening.$inferInsert,
  fittedAt: Date | null,
): Promise<string> {
  const list = await cohortInfo(scored.cohortId);
  const candidate = await candidateRow(scored.candidateId);
  const scoredWith = await currentVersion(candidate);
  if (
    cohortFingerprint(list) !== scored.patients ||
    candidate.fittedAt?.getTime() !== fittedAt?.getTime() ||
    !same(scoredWith.cases, scored.cases)
  )
    throw new Problem(
      409,
      'changed-meanwhile',
      'The list or the fit was changed while it was being scored. Nothing was kept; score it again.',
    );
  const values = { ...scored, scoredWith };
  // A capacity stays when a list is scored again; a cutoff by hand was one of the risks before.
  const calls = sql<CallRule>`case ${tables.screening.calls}->>'by' when 'capacity' then ${tables.screening.calls} else '{"by":"candidate"}'::jsonb end`;
  return atOnce(async () => {
    const [{ id }] = await db()
      .insert(tables.screening)
      .values(values)
      .onConflictDoUpdate({
        target: [tables.screening.cohortId, tables.screening.candidateId],
        set: { ...values, calls, createdAt: new Date() },
      })
      .returning({ id: tables.screening.id });
    await recordAct(values.studyId, `${list.name} scored with ${scoredWith.name}`);
    await announce(values.studyId);
    return id;
  });
}

/** Nothing is scored in silence with a fit that nobody has checked, or that is of another design. */
async function refuseUnchecked(studyId: string, candidateId: string): Promise<void> {
  const line = (await listCandidates(studyId)).find(({ id }) => id === candidateId);
  if (!line) throw notFound('The candidate');
  if (!line.seen)
    throw new Problem(
      409,
      'not-checked',
      `${line.name} has not been checked on held-out patients in this fit. Nobody was scored.`,
    );
  if (line.outOfDate)
    throw new Problem(
      409,
      'out-of-date',
      `${line.name} was fitted on an earlier design. Nobody was scored.`,
    );
}

/** Nothing is scored on too little, or without what was said to be needed. */
function refuse({ cohort, task, met }: Meeting, accept: boolean): void {
  const { model, needed } = task;
  const { predictors, unscored } = met;
  const { rowCount } = cohort;
  // What a rule reads is asked for by name.
  const isRule = familyOf(model.family.id).description.fixed === true;
  if (predictors.every((predictor) => predictor.absent) && !isRule)
    throw new Problem(
      422,
      'nothing-in-common',
      `${cohort.file.name} has none of the model's ${model.predictors.length} predictors, so there is nothing to score. Check that it is the right file; columns are matched by name.`,
    );
  if (met.lacking.length > 0 || unscored === rowCount)
    throw new Problem(
      422,
      'needed-absent',
      `${(met.lacking.length > 0 ? met.lacking : predictors.filter(({ name }) => needed.includes(name))).map(display).join(', ')} must be known for a patient to be scored, and this list does not have it. Match the column that stands for it${isRule ? '' : ', or let it be missing in Design'}.`,
    );
  if (met.unfamiliar > 0 && !accept)
    throw new Problem(
      409,
      'rests-on-too-little',
      `The risk of ${met.unfamiliar} of ${rowCount} patients rests on what no or hardly any development patient had: ${describeUnfamiliar(predictors)}. Nobody was scored.`,
    );
}

function describeUnfamiliar(predictors: AlignedPredictor[]): string {
  const parts = predictors.flatMap((one) =>
    one.unfamiliar.map(({ what, level, rows }) => {
      const name = display(one);
      if (what === 'level') return `${name} ${level} (${rows})`;
      if (what === 'gap') return `${name} not known (${rows})`;
      if (what === 'displaced')
        return `${name} lies elsewhere as a whole, as in another unit (${rows})`;
      return `${name} far out of range (${rows})`;
    }),
  );
  return parts.length > 6
    ? `${parts.slice(0, 6).join(', ')} and ${parts.length - 6} more`
    : parts.join(', ');
}
