import { candidateRow } from '../candidates/index.ts';
import { meetModel } from './meet.ts';
import type { CheckBeforeScoring } from '../../contract/screenings.ts';

/** Meets a cohort with a model and says what is missing, extra, new or out of range. */
export async function checkCohort(
  studyId: string,
  cohortId: string,
  candidateId: string,
): Promise<CheckBeforeScoring> {
  const { cohort, task, met } = await meetModel(studyId, cohortId, candidateId);
  const { warnings } = await candidateRow(candidateId);
  const { rowCount } = cohort;
  return {
    rowCount,
    predictors: met.predictors,
    extraColumns: met.extra,
    matching: task.matching,
    unfamiliarPatients: met.unfamiliar,
    suggestions: met.suggestions,
    needed: {
      absent: met.lacking.map(({ name }) => name),
      patients: met.unscored,
    },
    warnings,
  };
}
