import { and, eq, inArray, isNull } from 'drizzle-orm';
import { familyOf } from '@rook-scale/core/families';
import type { BlendPart } from '../../contract/candidates.ts';
import { atOnce, db, inTurn, tables } from '../ground/database/index.ts';
import { notFound, Problem } from '../ground/problem.ts';
import { announce } from '../jobs/index.ts';
import { checkBasis, insertCandidate, readyDesign, refuseKind } from './change.ts';
import { candidateName } from './store.ts';

/** Makes one candidate of several, and asks for its fit. */
export async function addBlend(
  studyId: string,
  candidates: string[],
  weights: 'learned' | 'equal',
): Promise<string> {
  const ids = [...new Set(candidates)];
  if (ids.length < 2)
    throw new Problem(400, 'one-part', 'A blend is made of two different candidates or more.');
  return inTurn(studyId, async () => {
    const design = await readyDesign(studyId);
    const parts = await partsFrom(studyId, ids);
    refuseKind(
      parts.map(({ family }) => family),
      design.choices,
    );
    for (const { basis } of parts) checkBasis(basis, design.choices);
    return atOnce(async () => {
      const id = await insertCandidate(studyId, design.id, {
        family: 'blend',
        settings: { weights },
        parts,
      });
      await announce(studyId);
      return id;
    });
  });
}

/** Candidates as parts, in the order asked for. */
async function partsFrom(studyId: string, ids: string[]): Promise<BlendPart[]> {
  const { candidate } = tables;
  const rows = await db()
    .select()
    .from(candidate)
    .where(
      and(eq(candidate.studyId, studyId), inArray(candidate.id, ids), isNull(candidate.deletedAt)),
    );
  return ids.map((id) => {
    const found = rows.find((row) => row.id === id);
    if (!found) throw notFound('The candidate');
    const { family, settings, basis } = found;
    const name = candidateName(found);
    const { description } = familyOf(family);
    if (description.blind || description.fixed || description.composed)
      throw new Problem(
        409,
        'no-part',
        description.composed
          ? `${name} is a blend itself. Choose its parts instead.`
          : `${name} learns nothing from predictors, and cannot be a part of a blend.`,
      );
    return { candidate: id, name, family, settings, basis };
  });
}
