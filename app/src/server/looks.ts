import { and, asc, desc, eq, isNull, sql } from 'drizzle-orm';
import {
  candidateCutoff,
  candidateName,
  casesInForce,
  fittedCandidate,
  keptPredictions,
  ownCosts,
  pack,
  type CandidateRow,
} from './candidates/index.ts';
import { currentDesign } from './design-in-force.ts';
import { atOnce, db, inTurn, tables } from './ground/database/index.ts';
import { announce } from './jobs/index.ts';
import { Problem } from './ground/problem.ts';
import type { Look, Opening, HeldOutView } from '../contract/looks.ts';

/**
 * Counts a look and gives what it shows. There is no other way to the held-out results. The same fit
 * opened again on the same day is the same look: reading it twice teaches nothing new.
 */
export async function takeLook(studyId: string, candidateId: string): Promise<HeldOutView> {
  const candidate = await fittedCandidate(candidateId);
  const { fittedAt, model } = candidate;
  if (candidate.studyId !== studyId)
    throw new Problem(409, 'not-fitted', 'This candidate has no held-out predictions yet.');
  const heldOut = await keptPredictions(candidateId, 'held out');
  const design = await currentDesign(studyId);
  const cutoff = await candidateCutoff(candidate);
  const name = candidateName(candidate);
  const isNew = await inTurn(studyId, async () => {
    const { look, heldOutView } = tables;
    const [known] = await db()
      .select({ id: look.id })
      .from(look)
      .where(
        and(
          eq(look.candidateId, candidateId),
          sameFit(fittedAt),
          sql`${look.at}::date = now()::date`,
        ),
      )
      .limit(1);
    await atOnce(async () => {
      const values = { studyId, candidateId, candidateName: name };
      if (!known)
        await db()
          .insert(look)
          .values({ ...values, fittedAt });
      await db()
        .insert(heldOutView)
        .values({ ...values, counted: !known });
    });
    return !known;
  });
  if (isNew) await announce(studyId);
  return {
    candidateId,
    candidateName: name,
    cutoff,
    fittedAt: fittedAt?.toISOString() ?? null,
    predictions: pack(
      heldOut,
      casesInForce(model.outcome, design?.choices),
      design && (await ownCosts(candidate, design.choices, 'held out')),
    ),
    looks: await listLooks(studyId),
    openings: await listOpenings(studyId),
  };
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

export async function listLooks(studyId: string): Promise<Look[]> {
  const rows = await db()
    .select({ at: tables.look.at, candidate: tables.look.candidateName })
    .from(tables.look)
    .where(eq(tables.look.studyId, studyId))
    .orderBy(asc(tables.look.id));
  return rows.map(dated);
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
