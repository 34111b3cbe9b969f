import { asc, eq } from 'drizzle-orm';
import {
  candidateCutoff,
  candidateName,
  fittedCandidate,
  pack,
  type Predictions,
} from './candidates.ts';
import { db, tables } from './database/index.ts';
import { announce } from './jobs/index.ts';
import { Problem } from './problem.ts';

export interface Look {
  at: Date;
  candidate: string;
}

/** What the held-out patients say of a candidate. Only a counted look gives it. */
export interface HeldOutView {
  candidateId: string;
  candidateName: string;
  cutoff: number;
  /** The fit that was looked at. */
  fittedAt: Date | null;
  predictions: Predictions;
  /** Every look at these held-out patients, this one last. */
  looks: Look[];
}

/** Counts a look and gives what it shows. There is no other way to the held-out results. */
export async function takeLook(studyId: string, candidateId: string): Promise<HeldOutView> {
  const candidate = await fittedCandidate(candidateId);
  if (candidate.studyId !== studyId || !candidate.heldOutRisks || !candidate.heldOutEvents)
    throw new Problem(409, 'not-fitted', 'This candidate has no held-out predictions yet.');
  const cutoff = await candidateCutoff(candidate);
  await db()
    .insert(tables.look)
    .values({ studyId, candidateId, candidateName: candidateName(candidate) });
  await announce(studyId);
  return {
    candidateId,
    candidateName: candidateName(candidate),
    cutoff,
    fittedAt: candidate.fittedAt,
    predictions: pack(candidate.heldOutRisks, candidate.heldOutEvents),
    looks: await listLooks(studyId),
  };
}

export async function listLooks(studyId: string): Promise<Look[]> {
  return db()
    .select({ at: tables.look.at, candidate: tables.look.candidateName })
    .from(tables.look)
    .where(eq(tables.look.studyId, studyId))
    .orderBy(asc(tables.look.id));
}
