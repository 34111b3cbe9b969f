import { rowsOn, side } from '@rook-scale/core/design';
import type { PackedColumn } from '../contract/surveys.ts';
import { candidateRow } from './candidates/index.ts';
import { dividedPatients } from './divided-patients.ts';
import { notFound, Problem } from './ground/problem.ts';
import { wasLookedAt } from './looks.ts';
import { packColumn } from './surveys/index.ts';

/**
 * A column of the held-out patients, in the order of what a candidate predicts of them. Only beside
 * results that were looked at: before that, nobody need know who they are.
 */
export async function heldOutColumn(
  studyId: string,
  candidateId: string,
  name: string,
): Promise<PackedColumn> {
  const candidate = await candidateRow(candidateId);
  if (candidate.studyId !== studyId) throw notFound('The candidate');
  if (!(await wasLookedAt(candidate)))
    throw new Problem(
      409,
      'not-looked',
      'The held-out patients have not been looked at with this fit. Look at them first.',
    );
  const { cohort, sides } = await dividedPatients(
    candidate.designId,
    'The patients have changed since this candidate was fitted. Fit it again to see it by groups.',
  );
  if (!cohort.dictionary.some((entry) => entry.name === name)) throw notFound(`The column ${name}`);
  return packColumn(cohort, name, rowsOn(sides, side.heldOut));
}
