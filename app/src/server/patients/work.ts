import { caseScores, type CaseRule } from '@rook-scale/core/outcome';
import type { Model } from '@rook-scale/core/model';
import {
  lackingOf,
  neededOf,
  neighboursOf,
  scorePatient,
  unfamiliarOf,
  whatIfOne,
  type PatientValues,
} from '@rook-scale/core/screening';
import { display } from '@rook-scale/core/table';
import { modelOf, needsModel } from '../known-models.ts';
import type { PatientAnswer } from '../../contract/patients.ts';

export interface PatientTask {
  /** The fit that is asked. */
  fit: string;
  /** Its model; left out where the thread may have it still. */
  model?: Model;
  /** What a case is now. */
  cases: CaseRule;
  values: PatientValues;
  /** Predictors of the design that must be known. */
  needed: string[];
}

/** The answer, or that the thread needs the model first. */
export type PatientAnswered = PatientAnswer | typeof needsModel;

/** What a model says of one patient, and would say if one value were different. */
export function answerPatient(task: PatientTask): PatientAnswered {
  const { cases, values, needed } = task;
  const found = modelOf(task);
  if (!found) return needsModel;
  const asked = { ...found, outcome: { ...found.outcome, cases } };
  const lacking = lackingOf(asked, values, neededOf(asked, needed)).map(display);
  if (lacking.length > 0) return { lacking, changes: [], unfamiliar: [] };
  const { predictions, intervals } = scorePatient(asked, values);
  const neighbours = neighboursOf(asked, values);
  return {
    lacking,
    score: caseScores(predictions, cases)[0],
    ...(predictions.kind === 'levels' && {
      shares: predictions.levels.map((level, k) => ({ level, share: predictions.shares[k] })),
    }),
    ...(neighbours && { neighbours }),
    ...(intervals && { interval: [intervals[0], intervals[1]] as [number, number] }),
    changes: whatIfOne(asked, values),
    unfamiliar: unfamiliarOf(asked, values),
  };
}
