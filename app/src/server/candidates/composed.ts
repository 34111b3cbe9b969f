import { and, eq, inArray, isNull } from 'drizzle-orm';
import {
  canBePart,
  familyOf,
  type FamilyDescription,
  type HowMoved,
  type Settings,
} from '@rook-scale/core/families';
import type { BlendPart } from '../../contract/candidates.ts';
import { atOnce, db, inTurn, tables } from '../ground/database/index.ts';
import { notFound, Problem } from '../ground/problem.ts';
import { announce } from '../jobs/index.ts';
import { checkBasis, insertCandidate, readyDesign, refuseKind, recordMade } from './change.ts';
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
  return addComposed(studyId, ids, { family: 'blend', settings: { weights } });
}

/** Makes a candidate of one whose risks are to be moved, and asks for its fit. */
export const addRecalibrated = (studyId: string, candidate: string, how: HowMoved) =>
  addComposed(studyId, [candidate], { family: 'recalibrated', settings: { how } });

async function addComposed(
  studyId: string,
  ids: string[],
  made: { family: string; settings: Settings },
): Promise<string> {
  return inTurn(studyId, async () => {
    const design = await readyDesign(studyId);
    const parts = await partsFrom(studyId, ids, made.family);
    refuseKind([made.family, ...parts.map(({ family }) => family)], design.choices);
    for (const { basis } of parts) checkBasis(basis, design.choices);
    return atOnce(async () => {
      const id = await insertCandidate(studyId, design.id, { ...made, parts });
      await recordMade(studyId, [id]);
      await announce(studyId);
      return id;
    });
  });
}

/** Candidates as parts, in the order asked for. */
async function partsFrom(studyId: string, ids: string[], made: string): Promise<BlendPart[]> {
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
    if (!canBePart(family)) throw new Problem(409, 'no-part', whyNoPart(name, description, made));
    return { candidate: id, name, family, settings, basis };
  });
}

function whyNoPart(name: string, { composed }: FamilyDescription, made: string): string {
  const whole = familyOf(made).description.composed === 'of one' ? 'recalibrated' : 'blended';
  if (!composed) return `${name} learns nothing from predictors, and cannot be ${whole}.`;
  return composed === 'of one'
    ? `${name} is recalibrated already. Choose the candidate that it was made of instead.`
    : `${name} is a blend itself. Choose its parts instead.`;
}
