import type { PackedColumn } from '../../contract/surveys.ts';
import { notFound } from '../ground/problem.ts';
import { packColumn } from '../surveys/index.ts';
import { heldOutPatients, type LookedAtFit } from './patients.ts';

/** A column of the held-out patients, in the order of what a candidate predicts of them. */
export async function heldOutColumn(
  studyId: string,
  fit: LookedAtFit,
  name: string,
): Promise<PackedColumn> {
  const { cohort, rows } = await heldOutPatients(studyId, fit);
  if (!cohort.dictionary.some((entry) => entry.name === name)) throw notFound(`The column ${name}`);
  return packColumn(cohort, name, rows);
}
