import { and, eq } from 'drizzle-orm';
import { familyOf } from '@rook-scale/core/families';
import { currentDesign } from '../../../server/design-in-force.ts';
import { atOnce, db, tables } from '../../../server/ground/database/index.ts';
import { Problem } from '../../../server/ground/problem.ts';

/**
 * Has a fit that begins stand on the design in force: between being asked for and being begun, patients and predictors
 * may have changed. Parts that are kept from a design before are dropped. A family that cannot predict the outcome of
 * the new design is said.
 */
export async function takeDesignInForce(candidateId: string, run: number): Promise<void> {
  const { candidate, fitPart } = tables;
  const own = and(eq(candidate.id, candidateId), eq(candidate.fitRun, run));
  const [asked] = await db()
    .select({ studyId: candidate.studyId, designId: candidate.designId, family: candidate.family })
    .from(candidate)
    .where(own);
  if (!asked) return;
  const inForce = await currentDesign(asked.studyId);
  if (!inForce?.divisionId || inForce.id === asked.designId) return;
  const { outcomes } = familyOf(asked.family).description;
  if (!outcomes.includes(inForce.choices.kind))
    throw new Problem(
      409,
      'other-kind',
      'The outcome has changed to another kind since this fit was asked for, which this family does not predict.',
    );
  await atOnce(async () => {
    const [taken] = await db()
      .update(candidate)
      .set({ designId: inForce.id, partsDone: 0 })
      .where(own)
      .returning({ id: candidate.id });
    if (taken) await db().delete(fitPart).where(eq(fitPart.candidateId, candidateId));
  });
}
