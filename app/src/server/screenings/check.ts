import type { FitWarning } from '@rook-scale/core/families';
import {
  suggestMatches,
  type AlignedPredictor,
  type Match,
  type Suggestion,
} from '@rook-scale/core/screening';
import { candidateRow } from '../candidates/index.ts';
import { countOnes, meetModel, unfamiliarRows } from './meet.ts';

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
  const meeting = await meetModel(studyId, cohortId, candidateId);
  const { alignment, table, model, cohort, needed, unscored } = meeting;
  const { warnings } = await candidateRow(candidateId);
  return {
    rowCount: table.rowCount,
    predictors: alignment.predictors,
    extraColumns: alignment.extra,
    matching: cohort.matching,
    unfamiliarPatients: countOnes(unfamiliarRows(meeting)),
    suggestions: suggestMatches(model, table),
    needed: {
      absent: alignment.predictors
        .filter((one) => needed.includes(one.name) && (one.absent || one.gaps === table.rowCount))
        .map(({ name }) => name),
      patients: countOnes(unscored),
    },
    warnings,
  };
}
