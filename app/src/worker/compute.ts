import { parentPort } from 'node:worker_threads';
import type { Settings } from '@rook-scale/core/families';
import type { PredictorColumn } from '@rook-scale/core/preparation';
import { fitPart, type FitPart, type FitPartResult } from '@rook-scale/core/tuning';
import type { SurveyTask } from '../server/surveys/index.ts';
import { carryOutSurvey, type SurveyResult } from './survey-task.ts';

/** One part of a fit for a thread; the typed arrays are in shared memory. */
export interface FitTask {
  part: FitPart;
  predictors: PredictorColumn[];
  events: Int8Array;
  recipe: { family: string; settings: Settings; seed: number };
}

export type ComputeTask = { fit: FitTask } | { survey: SurveyTask };
export type ComputeResult = FitPartResult | SurveyResult;
export type ComputeAnswer = { result: ComputeResult } | { error: unknown };

parentPort?.on('message', (task: ComputeTask) => {
  let answer: ComputeAnswer;
  try {
    answer = { result: carryOut(task) };
  } catch (error) {
    answer = { error };
  }
  parentPort?.postMessage(answer);
});

function carryOut(task: ComputeTask): ComputeResult {
  if ('survey' in task) return carryOutSurvey(task.survey);
  const { part, predictors, events, recipe } = task.fit;
  return fitPart(part, predictors, events, recipe);
}
