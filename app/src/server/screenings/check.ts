import { candidateRow } from '../candidates/index.ts';
import { meetModel } from './meet.ts';
import { studyPatientsIn } from './study-patients.ts';
import type { CohortInfo } from '../../contract/cohorts.ts';
import type { CheckBeforeScoring, StudyPatients } from '../../contract/screenings.ts';

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
    ...(await studyPatients(cohort)),
    suggestions: met.suggestions,
    needed: {
      absent: met.lacking.map(({ name }) => name),
      patients: met.unscored,
    },
    warnings,
  };
}

/** Patients of the study in a list, where there are such. */
export async function studyPatients(list: CohortInfo): Promise<{ studyPatients?: StudyPatients }> {
  const found = await studyPatientsIn(list);
  if (!found) return {};
  const { sides: _, ...counts } = found;
  return { studyPatients: counts };
}
