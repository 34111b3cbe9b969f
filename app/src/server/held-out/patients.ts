import type { CohortInfo } from '../../contract/cohorts.ts';
import { rowsOn, side } from '@rook-scale/core/design';
import { candidateRow, type CandidateRow } from '../candidates/index.ts';
import { dividedPatients } from '../divided-patients.ts';
import { notFound, Problem } from '../ground/problem.ts';
import { wasLookedAt } from '../looks.ts';

/** A candidate's fit, by when it ended. */
export interface LookedAtFit {
  candidate: string;
  fittedAt: string;
}

/**
 * The held-out patients of a candidate's fit, in the order of what it predicts of them. Only for whoever
 * has looked at its results: before that, nobody need know who they are.
 */
export async function heldOutPatients(
  studyId: string,
  { candidate: id, fittedAt }: LookedAtFit,
): Promise<{ candidate: CandidateRow; cohort: CohortInfo; rows: Int32Array }> {
  const candidate = await candidateRow(id);
  if (candidate.studyId !== studyId) throw notFound('The candidate');
  // While it is fitted again, and where that came to no end, its predictions are of the division before.
  if (candidate.state !== 'fitted' || candidate.fittedAt?.toISOString() !== fittedAt)
    throw new Problem(
      409,
      'other-fit',
      'This candidate was fitted again, or is about to be: the held-out patients may be others. Look at the new fit.',
    );
  if (!(await wasLookedAt(candidate)))
    throw new Problem(
      409,
      'not-looked',
      'The held-out patients have not been looked at with this fit. Look at them first.',
    );
  const { cohort, sides } = await dividedPatients(
    candidate.designId,
    'The patients have changed since this candidate was fitted. Fit it again to see who they are.',
  );
  return { candidate, cohort, rows: rowsOn(sides, side.heldOut) };
}
