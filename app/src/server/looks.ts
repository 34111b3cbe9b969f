import { and, asc, desc, eq, inArray, isNull, sql } from 'drizzle-orm';
import { numbersOf } from '@rook-scale/core/outcome';
import {
  candidateCurves,
  candidateCutoff,
  candidateName,
  clustersOfPredictions,
  casesInForce,
  compareCandidates,
  fittedCandidate,
  keptPredictions,
  ownCosts,
  pack,
  refuseOthers,
  type CandidateRow,
} from './candidates/index.ts';
import { recordAct } from './acts/index.ts';
import { currentDesign } from './design-in-force.ts';
import { developmentCohort } from './cohorts/index.ts';
import { atOnce, db, inTurn, tables } from './ground/database/index.ts';
import { asKept, rowsShown, standingOf, type Standing } from './seen-patients.ts';
import { announce } from './jobs/index.ts';
import { Problem } from './ground/problem.ts';
import type { HeldOutView, Look, Opening, SeveralHeldOut } from '../contract/looks.ts';

/**
 * Counts a look and gives what it shows. There is no other way to the held-out results. The same fit
 * opened again on the same day is the same look: reading it twice teaches nothing new.
 */
export async function takeLook(studyId: string, candidateId: string): Promise<HeldOutView> {
  const candidate = await lookable(studyId, candidateId);
  const { fittedAt, model } = candidate;
  const heldOut = await keptPredictions(candidateId, 'held out');
  const design = await currentDesign(studyId);
  const cutoff = await candidateCutoff(candidate);
  await countLook(studyId, [candidate]);
  return {
    candidateId,
    candidateName: candidateName(candidate),
    cutoff,
    fittedAt: fittedAt?.toISOString() ?? null,
    predictions: pack(
      heldOut,
      casesInForce(model.outcome, design?.choices),
      design && (await ownCosts(candidate, design.choices, 'held out')),
      1,
      await clustersOfPredictions(candidate, 'held out'),
    ),
    reference: await referenceFor(candidate),
    looks: await listLooks(studyId),
    openings: await listOpenings(studyId),
  };
}

/** Counts one look at several candidates, and gives them beside one another: each less the first. */
export async function lookAtSeveral(studyId: string, ids: string[]): Promise<SeveralHeldOut> {
  const candidates = await Promise.all(ids.map((id) => lookable(studyId, id)));
  const [base, ...others] = candidates;
  for (const other of others) await refuseOthers(base, other);
  await countLook(studyId, candidates);
  const [curves, compared] = await Promise.all([
    Promise.all(ids.map((id) => candidateCurves(id, 'held out'))),
    Promise.all(others.map(({ id }) => compareCandidates(id, base.id, 'held out'))),
  ]);
  return { candidates: ids, curves, compared, looks: await listLooks(studyId) };
}

/** What the reference candidate of the same design says of everybody: it knows nobody, so that no look is taken. */
async function referenceFor({
  studyId,
  designId,
  outcome,
}: CandidateRow): Promise<number[] | null> {
  if (outcome?.choice.kind === 'event') return null;
  const { candidate, design } = tables;
  const division = db()
    .select({ id: design.divisionId })
    .from(design)
    .where(eq(design.id, designId));
  const [found] = await db()
    .select({ id: candidate.id })
    .from(candidate)
    .innerJoin(design, eq(design.id, candidate.designId))
    .where(
      and(
        eq(candidate.studyId, studyId),
        eq(candidate.family, 'reference'),
        eq(candidate.state, 'fitted'),
        inArray(design.divisionId, division),
        isNull(candidate.deletedAt),
      ),
    )
    .limit(1);
  if (!found) return null;
  const { predictions } = await keptPredictions(found.id, 'held out');
  return Array.from(
    numbersOf(predictions).subarray(
      0,
      predictions.kind === 'levels' ? predictions.levels.length : 1,
    ),
  );
}

async function lookable(studyId: string, candidateId: string) {
  const candidate = await fittedCandidate(candidateId);
  if (candidate.studyId !== studyId)
    throw new Problem(409, 'not-fitted', 'This candidate has no held-out predictions yet.');
  return candidate;
}

/** Writes down who is looked at; what is looked at together counts once, and what was seen today not again. */
async function countLook(studyId: string, candidates: CandidateRow[]): Promise<void> {
  const isNew = await inTurn(studyId, async () => {
    const known = await Promise.all(candidates.map(seenToday));
    const fresh = candidates.filter((_, i) => !known[i]);
    await atOnce(async () => {
      let counted: number | undefined;
      for (const candidate of fresh) {
        const { id, fittedAt } = candidate;
        const [added] = await db()
          .insert(tables.look)
          .values({
            ...{ studyId, candidateId: id, fittedAt, besides: counted },
            ...asKept(await rowsShown(candidate.designId, 'heldOut')),
            candidateName: candidateName(candidate),
          })
          .returning({ id: tables.look.id });
        counted ??= added.id;
      }
      if (fresh.length > 0)
        await recordAct(
          studyId,
          `look at held-out patients with ${fresh.map(candidateName).join(', ')}`,
        );
      await db()
        .insert(tables.heldOutView)
        .values(
          candidates.map((candidate) => ({
            ...{ studyId, candidateId: candidate.id, candidateName: candidateName(candidate) },
            counted: candidate === fresh[0],
          })),
        );
    });
    return fresh.length > 0;
  });
  if (isNew) await announce(studyId);
}

async function seenToday({ id, fittedAt }: CandidateRow): Promise<boolean> {
  const { look } = tables;
  const [known] = await db()
    .select({ id: look.id })
    .from(look)
    .where(and(eq(look.candidateId, id), sameFit(fittedAt), sql`${look.at}::date = now()::date`))
    .limit(1);
  return known !== undefined;
}

/** Whether the held-out results of the fit that a candidate has now were looked at. */
export async function wasLookedAt({ id, fittedAt }: CandidateRow): Promise<boolean> {
  const { look } = tables;
  const [found] = await db()
    .select({ id: look.id })
    .from(look)
    .where(and(eq(look.candidateId, id), sameFit(fittedAt)))
    .limit(1);
  return found !== undefined;
}

function sameFit(fittedAt: Date | null) {
  const { look } = tables;
  return fittedAt ? eq(look.fittedAt, fittedAt) : isNull(look.fittedAt);
}

/** Every counted look, the first one first, with the names of all that it was at, and how it stands to the split in force. */
export async function listLooks(studyId: string): Promise<Look[]> {
  const { look } = tables;
  const rows = await db()
    .select({
      id: look.id,
      at: look.at,
      candidate: look.candidateName,
      besides: look.besides,
      cohortId: look.cohortId,
      rows: look.rows,
    })
    .from(look)
    .where(eq(look.studyId, studyId))
    .orderBy(asc(look.id));
  const counted = rows.filter(({ besides }) => besides === null);
  const [design, cohort] = await Promise.all([currentDesign(studyId), developmentCohort(studyId)]);
  const standings =
    counted.length > 0 && design?.divisionId && cohort
      ? await standingOf(cohort, design.divisionId, counted, 'heldOut')
      : [];
  return counted.map(({ id, at, candidate }, i) => {
    const others = rows.filter(({ besides }) => besides === id).map((row) => row.candidate);
    const standing = standings[i] as Standing | null | undefined;
    return dated({
      at,
      candidate: [candidate, ...others].join(', '),
      ...(standing && { standing }),
    });
  });
}

async function listOpenings(studyId: string): Promise<Opening[]> {
  const { heldOutView } = tables;
  const rows = await db()
    .select({
      at: heldOutView.at,
      candidate: heldOutView.candidateName,
      counted: heldOutView.counted,
    })
    .from(heldOutView)
    .where(eq(heldOutView.studyId, studyId))
    .orderBy(desc(heldOutView.id))
    .limit(100);
  return rows.map(dated);
}

const dated = <Row extends { at: Date }>(row: Row) => ({ ...row, at: row.at.toISOString() });
