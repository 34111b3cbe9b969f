import { typicalPatient, type PatientValues } from '@rook-scale/core/screening';
import type { PatientAnswer, PatientSheet } from '../../contract/patients.ts';
import {
  candidateRow,
  casesInForce,
  fittedCandidate,
  notFitted,
  withCases,
  withModel,
} from '../candidates/index.ts';
import { currentDesign } from '../design-in-force.ts';
import { onThread } from '../threads/index.ts';

/** What a fitted candidate asks of a patient. */
export async function patientSheet(candidateId: string): Promise<PatientSheet> {
  const candidate = await fittedCandidate(candidateId);
  const design = await currentDesign(candidate.studyId);
  const { outcome, predictors, sources } = withCases(candidate.model, design?.choices);
  return {
    fittedAt: candidate.fittedAt!.toISOString(),
    outcome,
    predictors,
    sources,
    usual: typicalPatient(candidate.model),
  };
}

/** What a fitted candidate says of one patient. */
export async function askPatient(
  candidateId: string,
  values: PatientValues,
): Promise<PatientAnswer> {
  const { studyId, outcome, fittedAt } = await candidateRow(candidateId);
  if (!outcome || !fittedAt) throw notFitted();
  const design = (await currentDesign(studyId))?.choices;
  const task = {
    fit: `${candidateId} ${fittedAt.toISOString()}`,
    cases: casesInForce(outcome, design),
    values,
    needed: design?.needed ?? [],
  };
  return withModel(candidateId, (brought) => onThread('patient', { ...task, ...brought }));
}
