import { caseScores, casesOf } from '@rook-scale/core/outcome';
import type { WrongShown } from '../../contract/looks.ts';
import { casesInForce, keptPredictions } from '../candidates/index.ts';
import { loadTable, namesOfRows } from '../cohorts/index.ts';
import { currentDesign } from '../design-in-force.ts';
import { onThread } from '../threads/index.ts';
import { heldOutPatients, type LookedAtFit } from './patients.ts';

/** Who of the held-out patients a candidate calls wrongly at a cutoff, and what they share. */
export async function wrongPatients(
  studyId: string,
  fit: LookedAtFit,
  cutoff: number,
): Promise<WrongShown> {
  const { candidate, cohort, rows } = await heldOutPatients(studyId, fit);
  const { predictions, outcome } = await keptPredictions(candidate.id, 'held out');
  const design = await currentDesign(studyId);
  const cases = casesInForce(candidate.outcome!, design?.choices);
  const names = cohort.dictionary.flatMap(({ name, role, kind }) =>
    role === 'predictor' && kind !== 'text' ? [name] : [],
  );
  const told = await onThread('wrong', {
    table: await loadTable(cohort, names),
    names,
    rows,
    events: casesOf(outcome, cases),
    scores: caseScores(predictions, cases),
    cutoff,
  });
  const nameOf = await namesOfRows(cohort);
  return {
    ...told,
    cohort: cohort.id,
    patients: told.patients.map((patient) => ({ ...patient, name: nameOf(patient.row) })),
  };
}
