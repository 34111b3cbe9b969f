import { and, eq, isNull, ne } from 'drizzle-orm';
import { ratioTest } from '@rook-scale/core/families';
import { fitKey, stepsOn, type Basis, type Design } from '@rook-scale/core/design';
import type { CandidateDetail, NestedFit } from '../../contract/candidates.ts';
import { db, tables } from '../ground/database/index.ts';
import { candidateName, fittedCandidate, keptFacets } from './store.ts';

/** At most so many are compared: each has its model read. */
const mostCompared = 20;

/** Fits of the study that this one is nested in, or that are nested in it. */
export async function nestedFits(
  detail: Pick<CandidateDetail, 'id' | 'facets' | 'inputs'>,
): Promise<NestedFit[]> {
  const { candidate, design } = tables;
  const own = await db()
    .select({ candidate, choices: design.choices, cohortId: design.cohortId })
    .from(candidate)
    .innerJoin(design, eq(design.id, candidate.designId))
    .where(eq(candidate.id, detail.id));
  if (!own[0]) return [];
  const { studyId, family } = own[0].candidate;
  const others = await db()
    .select({ candidate, choices: design.choices })
    .from(candidate)
    .innerJoin(design, eq(design.id, candidate.designId))
    .where(
      and(
        eq(candidate.studyId, studyId),
        eq(candidate.family, family),
        eq(candidate.state, 'fitted'),
        eq(design.cohortId, own[0].cohortId),
        ne(candidate.id, detail.id),
        isNull(candidate.deletedAt),
      ),
    )
    .limit(mostCompared);
  const asked = patientsKey(own[0]);
  if (asked === undefined) return [];
  const shown = { inputs: detail.inputs.map(({ name }) => name), facets: detail.facets };
  const found: NestedFit[] = [];
  for (const { candidate: other, choices } of others) {
    if (patientsKey({ candidate: other, choices }) !== asked) continue;
    const { model } = await fittedCandidate(other.id);
    const theirs = {
      inputs: model.preparation.inputs.map(({ name }) => name),
      facets: await keptFacets(other.id, model),
    };
    const about = { id: other.id, name: candidateName(other) };
    const smaller = ratioTest(shown, theirs);
    if (smaller) found.push({ ...about, ...smaller, larger: false });
    const larger = smaller ? undefined : ratioTest(theirs, shown);
    if (larger) found.push({ ...about, ...larger, larger: true });
  }
  return found;
}

/** Steps that make other inputs, or leave other patients, of other predictors. */
const dependOnOthers = ['components', 'leave out patients'];

/**
 * The same for fits of the same outcome on the same patients with the same steps, whatever the
 * predictors. None where an input of one name is another with other predictors.
 */
function patientsKey({
  candidate,
  choices,
}: {
  candidate: { basis: Basis };
  choices: Design;
}): string | undefined {
  const design = { ...choices, preparation: stepsOn(choices, candidate.basis), predictors: [] };
  const mixes = design.preparation.some(
    (step) =>
      dependOnOthers.includes(step.step) ||
      (step.step === 'fill' &&
        (step.how === 'nearest patients' || step.how === 'chained regressions')),
  );
  return mixes ? undefined : fitKey(design);
}
