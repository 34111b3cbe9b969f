import { createHash } from 'node:crypto';
import { and, eq, max } from 'drizzle-orm';
import { columnsOfCosts, type Design } from '@rook-scale/core/design';
import type { CandidateVersion } from '../../contract/candidates.ts';
import { currentDesign } from '../design-in-force.ts';
import { atOnce, db, tables } from '../ground/database/index.ts';
import { inOrder } from '../ground/same.ts';
import { casesInForce, costsOf } from './cases.ts';
import { candidateCutoff } from './judge.ts';
import { candidateName, notFitted, type CandidateRow } from './store.ts';

const { candidateVersion: kept } = tables;

/** The version that a candidate is at: its fit, cutoff rule and cutoff, costs, and what a case is. */
export async function currentVersion(candidate: CandidateRow): Promise<CandidateVersion> {
  const design = await currentDesign(candidate.studyId);
  if (!design) throw notFitted();
  return keepVersion(candidate, design.choices, await candidateCutoff(candidate));
}

/** Gives the version its number, the one that it had where it was there before. */
export async function keepVersion(
  candidate: CandidateRow,
  choices: Design,
  cutoff: number,
): Promise<CandidateVersion> {
  const { id: candidateId } = candidate;
  const made = await describe(candidate, choices, cutoff);
  const key = keyOf(made);
  return atOnce(async () => {
    // Held, so that two at once never count the same number.
    await db()
      .select({ id: tables.candidate.id })
      .from(tables.candidate)
      .where(eq(tables.candidate.id, candidateId))
      .for('no key update');
    const [before] = await db()
      .select({ number: kept.number })
      .from(kept)
      .where(and(eq(kept.candidateId, candidateId), eq(kept.key, key)));
    if (before) return { ...made, number: before.number };
    const [{ last }] = await db()
      .select({ last: max(kept.number) })
      .from(kept)
      .where(eq(kept.candidateId, candidateId));
    const version = { ...made, number: (last ?? 0) + 1 };
    await db().insert(kept).values({ candidateId, number: version.number, key, version });
    return version;
  });
}

/** Whether two versions call in the same patients for the same reasons; their names may differ. */
export const isSameVersion = (a: CandidateVersion, b: CandidateVersion): boolean =>
  keyOf(a) === keyOf(b);

async function describe(
  candidate: CandidateRow,
  choices: Design,
  cutoff: number,
): Promise<Omit<CandidateVersion, 'number'>> {
  const { outcome, fittedAt, cutoffRule: rule } = candidate;
  if (!outcome || !fittedAt) throw notFitted();
  const [design] = await db()
    .select({ fitKey: tables.design.fitKey })
    .from(tables.design)
    .where(eq(tables.design.id, candidate.designId));
  const { missedCost: missed, falseAlarmCost: falseAlarm, levelCosts } = costsOf(choices, outcome);
  return {
    name: candidateName(candidate),
    fittedAt: fittedAt.toISOString(),
    design: design.fitKey.slice(0, 12),
    rule,
    cutoff,
    costs: {
      ...{ missed, falseAlarm, unit: choices.costUnit },
      ...(levelCosts && { levels: levelCosts }),
      ...(columnsOfCosts(choices).length > 0 && { own: choices.ownCosts }),
    },
    cases: casesInForce(outcome, choices),
  };
}

function keyOf({ fittedAt, rule, cutoff, costs, cases }: Omit<CandidateVersion, 'number'>): string {
  const { unit: _, ...figures } = costs;
  return createHash('sha256')
    .update(inOrder({ fittedAt, rule, cutoff, figures, cases }))
    .digest('hex');
}
