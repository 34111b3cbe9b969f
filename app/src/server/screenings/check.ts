import type { FitWarning } from '@rook-scale/core/families';
import type { AlignedPredictor, Match, Suggestion } from '@rook-scale/core/screening';
import { candidateRow } from '../candidates/index.ts';
import { meetModel } from './meet.ts';

/** How a cohort fits the model, before or after it is scored. */
export interface CohortCheck {
  rowCount: number;
  predictors: AlignedPredictor[];
  extraColumns: string[];
  /** How columns of the list stand for predictors under another name, unit or levels. */
  matching: Match[];
  /** Patients of whom a value is one that hardly any development patient had. */
  unfamiliarPatients: number;
}

/** What is said before anyone is scored. */
export interface CheckBeforeScoring extends CohortCheck {
  suggestions: Suggestion[];
  /** Predictors without which nobody may be scored, and the patients who lack one. */
  needed: { absent: string[]; patients: number };
  warnings: FitWarning[];
}

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
