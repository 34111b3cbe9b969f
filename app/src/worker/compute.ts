import { parentPort } from 'node:worker_threads';
import { fitPart, type FitPart, type FitPartResult } from '@rook-scale/core/tuning';
import type { PredictorColumn } from '@rook-scale/core/preparation';
import type { Settings } from '@rook-scale/core/families';

/** One part of a fit for a thread; the typed arrays are in shared memory. */
export interface ComputeTask {
  part: FitPart;
  predictors: PredictorColumn[];
  events: Int8Array;
  recipe: { family: string; settings: Settings; seed: number };
}

export type ComputeAnswer = { result: FitPartResult } | { error: unknown };

parentPort?.on('message', ({ part, predictors, events, recipe }: ComputeTask) => {
  let answer: ComputeAnswer;
  try {
    answer = { result: fitPart(part, predictors, events, recipe) };
  } catch (error) {
    answer = { error };
  }
  parentPort?.postMessage(answer);
});
